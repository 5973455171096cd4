"""measures of a studio's own, spoons it does not own; the same spoon again; every craft on a day."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0030"
down_revision = "0029"
branch_labels = None
depends_on = None


KINDS = "'plan', 'recipe', 'cake', 'fill', 'sticks'"
MORE = "'run', 'can', 'dish', 'chart', 'new'"


def upgrade() -> None:
    op.create_table(
        "own_measure",
        sa.Column("id", sa.Integer(), sa.Identity(), nullable=False),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("powder", sa.Boolean(), nullable=False),
        sa.Column("liquid", sa.Boolean(), nullable=False),
        sa.Column("holds", sa.String(), nullable=False),
        sa.Column("amount", sa.Float(), nullable=True),
        sa.Column("spoon", sa.String(), nullable=True),
        sa.CheckConstraint(
            "holds in ('ml', 'spoons', 'drops', 'weighed', 'unknown')", name=op.f("ck_own_measure_holds")
        ),
        sa.CheckConstraint("powder or liquid", name=op.f("ck_own_measure_measures")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_own_measure")),
        sa.UniqueConstraint("name", name=op.f("uq_own_measure_name")),
        sa.UniqueConstraint("place", name=op.f("uq_own_measure_place")),
    )
    op.drop_constraint("ck_day_job_kind", "day_job")
    op.create_check_constraint(op.f("ck_day_job_kind"), "day_job", f"kind in ({KINDS}, {MORE})")
    op.add_column("demand_record", sa.Column("powder_by", sa.String(), server_default="", nullable=False))
    op.add_column("shelf_item", sa.Column("label_says", sa.String(), server_default="", nullable=False))
    op.add_column("studio_settings", sa.Column("spoons_missing", JSONB(), server_default="[]", nullable=False))


def downgrade() -> None:
    op.drop_column("studio_settings", "spoons_missing")
    op.drop_column("demand_record", "powder_by")
    op.drop_column("shelf_item", "label_says")
    op.drop_table("own_measure")
    op.execute(f"delete from day_job where kind in ({MORE})")
    op.drop_constraint("ck_day_job_kind", "day_job")
    op.create_check_constraint(op.f("ck_day_job_kind"), "day_job", f"kind in ({KINDS})")
