"""additives and ladders."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0004"
down_revision = "0003"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "ladder",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=True),
        sa.Column("design", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("outcome", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("retired", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["recipe_id"], ["recipe.id"], name=op.f("fk_ladder_recipe_id_recipe")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ladder")),
        sa.UniqueConstraint("request_id", name=op.f("uq_ladder_request_id")),
    )
    op.create_table(
        "ladder_act",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("ladder_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("rung", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("value", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("recorded_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["ladder_id"], ["ladder.id"], name=op.f("fk_ladder_act_ladder_id_ladder")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ladder_act")),
    )
    op.create_index("ix_ladder_act_ladder_id", "ladder_act", ["ladder_id"], unique=False)
    op.add_column("batch", sa.Column("use_by", sa.Date(), nullable=True))
    op.add_column("batch", sa.Column("discarded_at", sa.DateTime(timezone=True), nullable=True))
    op.add_column("batch", sa.Column("discarded_why", sa.String(), nullable=True))
    op.add_column("lot", sa.Column("prepared", postgresql.JSONB(astext_type=sa.Text()), nullable=True))
    op.add_column("lot", sa.Column("use_by", sa.Date(), nullable=True))


def downgrade() -> None:
    op.drop_column("lot", "use_by")
    op.drop_column("lot", "prepared")
    op.drop_column("batch", "discarded_why")
    op.drop_column("batch", "discarded_at")
    op.drop_column("batch", "use_by")
    op.drop_index("ix_ladder_act_ladder_id", table_name="ladder_act")
    op.drop_table("ladder_act")
    op.drop_table("ladder")
