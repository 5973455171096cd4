"""the minutes a batch was planned to take, beside its row: a plan is a large document to read a pace from."""

import sqlalchemy as sa
from alembic import op

revision = "0017"
down_revision = "0016"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("batch", sa.Column("planned_min", sa.Double(), nullable=True))
    # Sessions planned before tidying was told apart count it in both: they say nothing of a pace.
    op.execute(
        "update batch set planned_min = (job.plan->'minutes'->>'value')::double precision from job"
        " where job.id = batch.job_id and job.plan->'tidying'->>'value' is not null"
    )
    op.create_check_constraint(op.f("ck_batch_planned_min"), "batch", "planned_min >= 0")
    op.create_index("ix_act_timed", "act", ["job_id"], postgresql_where=sa.text("kind in ('load_done', 'fineness')"))


def downgrade() -> None:
    op.drop_index("ix_act_timed", "act")
    op.drop_constraint(op.f("ck_batch_planned_min"), "batch")
    op.drop_column("batch", "planned_min")
