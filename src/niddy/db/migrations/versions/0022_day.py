"""day: hours, jobs put on a day, cleanings noted; acts found by when they were made; the calendar's secret."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0022"
down_revision = "0021"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "day",
        sa.Column("on_date", sa.Date(), nullable=False),
        sa.Column("start_min", sa.Integer(), nullable=False),
        sa.Column("end_min", sa.Integer(), nullable=False),
        sa.Column("breaks", JSONB(), server_default="[]", nullable=False),
        sa.Column("slabs", sa.Integer(), server_default="1", nullable=False),
        sa.Column("order", JSONB(), nullable=True),
        sa.CheckConstraint("start_min >= 0 and end_min > start_min and end_min <= 1440", name=op.f("ck_day_hours")),
        sa.CheckConstraint("slabs between 1 and 4", name=op.f("ck_day_slabs")),
        sa.PrimaryKeyConstraint("on_date", name=op.f("pk_day")),
    )
    op.create_table(
        "day_job",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("on_date", sa.Date(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("ref", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=True),
        sa.Column("put_at", WHEN, nullable=False),
        sa.Column("facts", JSONB(), server_default="{}", nullable=False),
        sa.CheckConstraint("kind in ('plan', 'recipe', 'cake', 'fill', 'sticks')", name=op.f("ck_day_job_kind")),
        sa.CheckConstraint("minutes between 1 and 1440", name=op.f("ck_day_job_minutes")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_day_job")),
    )
    op.create_index("ix_day_job_on_date", "day_job", ["on_date"])
    op.create_table(
        "slab_cleaning",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("act_id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("minutes", sa.Double(), nullable=False),
        sa.Column("expected_min", sa.Double(), nullable=False),
        sa.Column("staining", sa.Integer(), nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.CheckConstraint("minutes > 0 and minutes <= 240", name=op.f("ck_slab_cleaning_minutes")),
        sa.CheckConstraint("expected_min > 0", name=op.f("ck_slab_cleaning_expected")),
        sa.CheckConstraint("staining between 0 and 3", name=op.f("ck_slab_cleaning_staining")),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_slab_cleaning_batch_number_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_slab_cleaning")),
        sa.UniqueConstraint("act_id", name=op.f("uq_slab_cleaning_act_id")),
        sa.UniqueConstraint("batch_number", name=op.f("uq_slab_cleaning_batch_number")),
    )
    op.create_index("ix_act_made_at", "act", ["made_at"])
    op.add_column("studio_settings", sa.Column("calendar_secret", sa.String(), nullable=True))


def downgrade() -> None:
    op.drop_column("studio_settings", "calendar_secret")
    op.drop_index("ix_act_made_at", "act")
    op.drop_table("slab_cleaning")
    op.drop_table("day_job")
    op.drop_table("day")
