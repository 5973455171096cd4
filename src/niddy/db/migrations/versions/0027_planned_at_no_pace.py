"""the minutes a batch was planned to take, at nobody's pace: a pace learned from plans that hold it runs in circles."""

from alembic import op

revision = "0027"
down_revision = "0026"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.execute(
        "update batch set planned_min = planned_min / (pace.input->>'value')::double precision"
        " from job, jsonb_array_elements(job.plan->'minutes'->'working'->'inputs') as pace (input)"
        " where job.id = batch.job_id and pace.input->>'name' = 'your pace, by your own clock'"
        " and (pace.input->>'value')::double precision > 0"
    )


def downgrade() -> None:
    op.execute(
        "update batch set planned_min = (job.plan->'minutes'->>'value')::double precision from job"
        " where job.id = batch.job_id and planned_min is not null"
    )
