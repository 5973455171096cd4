"""readings, what was set aside of them and decisions as acts of a job beside the batch."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0013"
down_revision = "0012"
branch_labels = None
depends_on = None

ROOMS = "room in ('slab', 'rubout', 'additives', 'gels', 'shelf'{more})"


def _rooms(more: str) -> None:
    op.drop_constraint(op.f("ck_job_room"), "job")
    op.create_check_constraint(op.f("ck_job_room"), "job", ROOMS.format(more=more))


def upgrade() -> None:
    _rooms(", 'checks'")
    op.execute(
        "insert into job (room, number, request_id, name, status, started_at, last_seq)"
        " select 'checks', batch.number, md5('checks-' || batch.number)::uuid, job.name, 'open', noted.at, 0"
        " from batch join job on job.id = batch.job_id join (select batch_number, min(made_at) as at from"
        " (select batch_number, made_at from batch_check union all select batch_number, made_at from release_decision)"
        " dated group by batch_number) noted on noted.batch_number = batch.number order by batch.number"
    )
    op.execute(
        "update batch_check set facts = facts || jsonb_build_object('note', payload ->> 'note')"
        " where payload ->> 'note' <> ''"
    )
    # In the order of their times; what sets a reading aside stands right after it, since nobody noted when it did.
    op.execute(
        "insert into act (id, job_id, seq, kind, payload, facts, strikes, made_at, recorded_at)"
        " select noted.id, job.id,"
        " row_number() over (partition by job.id order by noted.made_at, noted.place, noted.id),"
        " noted.kind, noted.payload, noted.facts, noted.strikes, noted.made_at, noted.made_at from ("
        " select id, batch_number, 1 as place, 'reading' as kind, payload,"
        "  facts || jsonb_build_object('value', value, 'choice', choice) as facts, null::uuid as strikes, made_at"
        "  from batch_check"
        " union all select md5('aside-' || id)::uuid, batch_number, 2, 'set_aside',"
        "  jsonb_build_object('reason', set_aside), '{}'::jsonb, id, made_at"
        "  from batch_check where set_aside is not null"
        " union all select request_id, batch_number, 3, 'decide',"
        "  jsonb_build_object('release', release, 'reason', reason), jsonb_build_object('advised', advised),"
        "  null, made_at from release_decision"
        " ) noted join job on job.room = 'checks' and job.number = noted.batch_number"
    )
    op.execute("update job set last_seq = (select count(*) from act where act.job_id = job.id) where room = 'checks'")
    op.drop_column("batch_check", "payload")
    op.create_foreign_key(op.f("fk_batch_check_id_act"), "batch_check", "act", ["id"], ["id"])
    op.drop_table("release_decision")


def downgrade() -> None:
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
    op.create_index(op.f("ix_release_decision_batch_number"), "release_decision", ["batch_number"])
    op.execute(
        "insert into release_decision (request_id, batch_number, release, advised, reason, made_at)"
        " select act.id, job.number, act.payload ->> 'release', act.facts ->> 'advised', act.payload ->> 'reason',"
        " act.made_at from act join job on job.id = act.job_id where job.room = 'checks' and act.kind = 'decide'"
        " order by act.recorded_at, act.seq"
    )
    op.drop_constraint(op.f("fk_batch_check_id_act"), "batch_check")
    op.add_column("batch_check", sa.Column("payload", JSONB(), nullable=True))
    op.execute(
        "update batch_check set payload = act.payload, facts = batch_check.facts - 'note' from act"
        " where act.id = batch_check.id"
    )
    op.alter_column("batch_check", "payload", nullable=False)
    op.execute("delete from act using job where job.id = act.job_id and job.room = 'checks'")
    op.execute("delete from job where room = 'checks'")
    _rooms("")
