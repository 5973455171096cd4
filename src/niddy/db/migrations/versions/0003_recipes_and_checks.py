"""recipes and checks."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0003"
down_revision = "0002"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "recipe",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("retired", sa.Boolean(), nullable=False),
        sa.Column("frozen_on", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe")),
        sa.UniqueConstraint("name", name=op.f("uq_recipe_name")),
    )
    op.create_table(
        "recipe_version",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("document", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.ForeignKeyConstraint(["recipe_id"], ["recipe.id"], name=op.f("fk_recipe_version_recipe_id_recipe")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_recipe_version")),
        sa.UniqueConstraint("recipe_id", "version", name="uq_recipe_version"),
    )
    op.create_table(
        "batch_check",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("value", sa.Double(), nullable=True),
        sa.Column("choice", sa.String(), nullable=True),
        sa.Column("payload", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("set_aside", sa.String(), nullable=True),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_batch_check_batch_number_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch_check")),
    )
    op.create_index(op.f("ix_batch_check_batch_number"), "batch_check", ["batch_number"], unique=False)
    op.create_table(
        "release_decision",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("release", sa.String(), nullable=False),
        sa.Column("advised", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(
            ["batch_number"], ["batch.number"], name=op.f("fk_release_decision_batch_number_batch")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_release_decision")),
        sa.UniqueConstraint("request_id", name=op.f("uq_release_decision_request_id")),
    )
    op.create_index(op.f("ix_release_decision_batch_number"), "release_decision", ["batch_number"], unique=False)
    op.add_column("batch", sa.Column("recipe_id", sa.Integer(), nullable=True))
    op.add_column("batch", sa.Column("recipe_version", sa.Integer(), nullable=True))
    op.add_column(
        "batch", sa.Column("results", postgresql.JSONB(astext_type=sa.Text()), server_default="{}", nullable=False)
    )
    op.add_column("batch", sa.Column("release", sa.String(), nullable=True))
    op.create_index("ix_batch_recipe_id_started_at", "batch", ["recipe_id", "started_at"], unique=False)
    op.create_foreign_key(op.f("fk_batch_recipe_id_recipe"), "batch", "recipe", ["recipe_id"], ["id"])


def downgrade() -> None:
    op.drop_constraint(op.f("fk_batch_recipe_id_recipe"), "batch", type_="foreignkey")
    op.drop_index("ix_batch_recipe_id_started_at", table_name="batch")
    op.drop_column("batch", "release")
    op.drop_column("batch", "results")
    op.drop_column("batch", "recipe_version")
    op.drop_column("batch", "recipe_id")
    op.drop_index(op.f("ix_release_decision_batch_number"), table_name="release_decision")
    op.drop_table("release_decision")
    op.drop_index(op.f("ix_batch_check_batch_number"), table_name="batch_check")
    op.drop_table("batch_check")
    op.drop_table("recipe_version")
    op.drop_table("recipe")
