"""one log for all crafts: jobs, their acts and pictures."""

from typing import Any

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0009"
down_revision = "0008"
branch_labels = None
depends_on = None

JSONB = postgresql.JSONB(astext_type=sa.Text())
WHEN = sa.DateTime(timezone=True)
EMPTY = sa.text("'{}'")


def upgrade() -> None:
    op.create_table(
        "job",
        sa.Column("id", sa.BigInteger(), sa.Identity(), nullable=False),
        sa.Column("room", sa.String(), nullable=False),
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("status", sa.String(), nullable=False),
        sa.Column("asked", JSONB, server_default=EMPTY, nullable=False),
        sa.Column("plan", JSONB, nullable=True),
        sa.Column("plan_version", sa.Integer(), server_default="0", nullable=False),
        sa.Column("state", JSONB, nullable=True),
        sa.Column("state_version", sa.Integer(), server_default="0", nullable=False),
        sa.Column("started_at", WHEN, nullable=False),
        sa.Column("ended_at", WHEN, nullable=True),
        sa.Column("last_seq", sa.Integer(), server_default="0", nullable=False),
        sa.CheckConstraint("status in ('open', 'finished', 'abandoned')", name=op.f("ck_job_status")),
        sa.CheckConstraint("room in ('slab', 'rubout', 'additives', 'gels', 'shelf')", name=op.f("ck_job_room")),
        sa.CheckConstraint("least(last_seq, plan_version, state_version) >= 0", name=op.f("ck_job_counts")),
        sa.CheckConstraint("ended_at is null or status <> 'open'", name=op.f("ck_job_ended")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_job")),
        sa.UniqueConstraint("room", "request_id", name="uq_job_request_id"),
        sa.UniqueConstraint("room", "number", name="uq_job_number"),
    )
    op.create_table(
        "act",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("payload", JSONB, nullable=False),
        sa.Column("facts", JSONB, nullable=False),
        sa.Column("strikes", sa.Uuid(), nullable=True),
        sa.Column("made_at", WHEN, nullable=False),
        sa.Column("recorded_at", WHEN, nullable=False),
        sa.CheckConstraint("seq > 0", name=op.f("ck_act_seq")),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_act_job_id_job")),
        sa.ForeignKeyConstraint(["strikes"], ["act.id"], name=op.f("fk_act_strikes_act")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_act")),
        sa.UniqueConstraint("job_id", "seq", name="uq_act_seq"),
    )
    op.create_table(
        "photo",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["id"], ["act.id"], name=op.f("fk_photo_id_act")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_photo")),
    )
    _batches_up()
    _rubouts_up()
    _ladders_up()
    _shelf_up()
    op.create_index("ix_job_room_started_at", "job", ["room", "started_at"])
    op.create_index("ix_job_open", "job", ["room", "started_at"], postgresql_where=sa.text("status = 'open'"))
    op.create_index("ix_act_strikes", "act", ["strikes"], postgresql_where=sa.text("strikes is not null"))


def downgrade() -> None:
    _shelf_down()
    _ladders_down()
    _rubouts_down()
    _batches_down()
    op.drop_table("photo")
    op.drop_table("act")
    op.drop_table("job")


def _hang(table: str, room: str) -> None:
    """Let each row of a room's table know its job."""
    op.add_column(table, sa.Column("job_id", sa.BigInteger(), nullable=True))
    op.execute(
        f"update {table} set job_id = job.id from job where job.room = '{room}' and job.request_id = {table}.request_id"
    )
    op.alter_column(table, "job_id", nullable=False)
    op.create_unique_constraint(op.f(f"uq_{table}_job_id"), table, ["job_id"])
    op.create_foreign_key(op.f(f"fk_{table}_job_id_job"), table, "job", ["job_id"], ["id"])
    op.drop_column(table, "request_id")


def _unhang(table: str, columns: dict[str, tuple[sa.types.TypeEngine[Any], str]], may_lack: tuple[str, ...]) -> None:
    """Give a room's table its columns back from its jobs: each with its type and the expression it is read by."""
    columns = {"request_id": (sa.Uuid(), "job.request_id"), **columns}
    for name, (kind, _) in columns.items():
        op.add_column(table, sa.Column(name, kind, nullable=True))
    told = ", ".join(f"{name} = {expression}" for name, (_, expression) in columns.items())
    op.execute(f"update {table} set {told} from job where job.id = {table}.job_id")
    for name in columns.keys() - set(may_lack):
        op.alter_column(table, name, nullable=False)
    op.create_unique_constraint(op.f(f"uq_{table}_request_id"), table, ["request_id"])
    op.drop_column(table, "job_id")


# Batches and the slab's pictures.


def _batches_up() -> None:
    op.execute(
        "insert into job (room, number, request_id, name, status, asked, plan, plan_version, state, state_version,"
        " started_at, ended_at, last_seq)"
        " select 'slab', number, request_id, name, status, plan -> 'asked', plan -> 'plan', 1, paste, 1,"
        " started_at, ended_at, last_seq from batch order by number"
    )
    op.drop_constraint(op.f("ck_batch_amounts"), "batch")
    _hang("batch", "slab")
    op.execute(
        "insert into act (id, job_id, seq, kind, payload, facts, strikes, made_at, recorded_at)"
        " select event.id, batch.job_id, event.seq, event.kind, event.payload, event.facts,"
        " (event.payload ->> 'strikes')::uuid, event.made_at, event.recorded_at"
        " from batch_event event join batch on batch.number = event.batch_number"
    )
    op.execute("insert into photo (id, jpeg, width, height) select id, jpeg, width, height from batch_photo")
    op.drop_table("batch_photo")
    op.drop_table("batch_event")
    for column in ("name", "status", "plan", "started_at", "ended_at", "last_seq", "paste"):
        op.drop_column("batch", column)
    op.create_index("ix_batch_recipe_id", "batch", ["recipe_id"])
    op.create_check_constraint(
        op.f("ck_batch_amounts"), "batch", "least(pigment_g, oil_g, made_ml, filled_ml, leftover_ml, tubes_filled) >= 0"
    )


def _batches_down() -> None:
    op.create_table(
        "batch_event",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("payload", JSONB, nullable=False),
        sa.Column("facts", JSONB, nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        sa.Column("recorded_at", WHEN, nullable=False),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_batch_event_batch_number_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch_event")),
        sa.UniqueConstraint("batch_number", "seq", name="uq_batch_event_seq"),
    )
    op.execute(
        "insert into batch_event select act.id, batch.number, act.seq, act.kind, act.payload, act.facts, act.made_at,"
        " act.recorded_at from act join batch on batch.job_id = act.job_id"
    )
    op.create_index(
        "ix_batch_event_strikes",
        "batch_event",
        [sa.text("(payload ->> 'strikes')")],
        postgresql_where=sa.text("kind = 'strike'"),
    )
    op.create_table(
        "batch_photo",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("jpeg", sa.LargeBinary(), nullable=False),
        sa.Column("width", sa.Integer(), nullable=False),
        sa.Column("height", sa.Integer(), nullable=False),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_batch_photo_batch_number_batch")),
        sa.ForeignKeyConstraint(["id"], ["batch_event.id"], name=op.f("fk_batch_photo_id_batch_event")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch_photo")),
    )
    op.create_index(op.f("ix_batch_photo_batch_number"), "batch_photo", ["batch_number"])
    op.execute(
        "insert into batch_photo select photo.id, batch.number, photo.jpeg, photo.width, photo.height from photo"
        " join act on act.id = photo.id join batch on batch.job_id = act.job_id"
    )
    op.drop_constraint(op.f("ck_batch_amounts"), "batch")
    op.drop_index("ix_batch_recipe_id", "batch")
    _unhang(
        "batch",
        {
            "name": (sa.String(), "job.name"),
            "status": (sa.String(), "job.status"),
            "plan": (JSONB, "jsonb_build_object('plan', job.plan, 'asked', job.asked)"),
            "started_at": (WHEN, "job.started_at"),
            "ended_at": (WHEN, "job.ended_at"),
            "last_seq": (sa.Integer(), "job.last_seq"),
            "paste": (JSONB, "job.state"),
        },
        ("ended_at",),
    )
    op.create_index("ix_batch_status_started_at", "batch", ["status", "started_at"])
    op.create_index("ix_batch_started_at", "batch", ["started_at"])
    op.create_index("ix_batch_recipe_id_started_at", "batch", ["recipe_id", "started_at"])
    op.create_check_constraint(op.f("ck_batch_status"), "batch", "status in ('open', 'finished', 'abandoned')")
    op.create_check_constraint(
        op.f("ck_batch_amounts"),
        "batch",
        "least(pigment_g, oil_g, made_ml, filled_ml, leftover_ml, tubes_filled, last_seq) >= 0",
    )


# Rub-outs.


def _rubouts_up() -> None:
    op.execute(
        "insert into job (room, number, request_id, name, status, asked, started_at, ended_at, last_seq)"
        " select 'rubout', id, request_id, upper(left(pigment_key, 1)) || substr(replace(pigment_key, '-', ' '), 2),"
        " case status when 'done' then 'finished' when 'aborted' then 'abandoned' else 'open' end,"
        " jsonb_build_object('lot_id', lot_id, 'pigment_g', pigment_g, 'temperature_c', temperature_c, 'oil',"
        " jsonb_build_object('lot_id', oil -> 'lot_id', 'key',"
        " case when oil ->> 'lot_id' is null then oil -> 'key' else 'null' end)), begun_at, ended_at,"
        " coalesce((select max(step.seq) from rubout_step step where step.rubout_id = rubout.id), 0)"
        " from rubout order by id"
    )
    _hang("rubout", "rubout")
    op.execute(
        "insert into act (id, job_id, seq, kind, payload, facts, strikes, made_at, recorded_at)"
        " select step.id, rubout.job_id, step.seq, case when step.undoes is null then 'oil' else 'strike' end,"
        " case when step.undoes is null then jsonb_build_object('measure', step.measure) else '{}' end,"
        " case when step.undoes is null then jsonb_build_object('mass', step.mass) else '{}' end,"
        " step.undoes, step.at, step.at from rubout_step step join rubout on rubout.id = step.rubout_id"
    )
    op.drop_table("rubout_step")
    for column in ("begun_at", "ended_at", "status"):
        op.drop_column("rubout", column)
    op.alter_column("rubout", "id", new_column_name="number")


def _rubouts_down() -> None:
    op.alter_column("rubout", "number", new_column_name="id")
    op.create_table(
        "rubout_step",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("rubout_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("measure", JSONB, nullable=True),
        sa.Column("mass", JSONB, nullable=True),
        sa.Column("undoes", sa.Uuid(), nullable=True),
        sa.Column("at", WHEN, nullable=False),
        sa.ForeignKeyConstraint(["rubout_id"], ["rubout.id"], name=op.f("fk_rubout_step_rubout_id_rubout")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rubout_step")),
        sa.UniqueConstraint("rubout_id", "seq", name="uq_rubout_step_seq"),
    )
    op.execute(
        "insert into rubout_step select act.id, rubout.id, act.seq, act.payload -> 'measure', act.facts -> 'mass',"
        " act.strikes, act.made_at from act join rubout on rubout.job_id = act.job_id"
    )
    _unhang(
        "rubout",
        {
            "begun_at": (WHEN, "job.started_at"),
            "ended_at": (WHEN, "job.ended_at"),
            "status": (
                sa.String(),
                "case job.status when 'finished' then 'done' when 'abandoned' then 'aborted' else 'open' end",
            ),
        },
        ("ended_at",),
    )
    op.create_check_constraint(op.f("ck_rubout_status"), "rubout", "status in ('open', 'done', 'aborted')")


# Ladders.

_OF_ITS_KIND = "other.ladder_id = act.ladder_id and other.rung = act.rung and other.kind = act.kind"
_IS_UNDO = "coalesce((other.value ->> 'undo')::boolean, false)"


def _ladders_up() -> None:
    op.execute(
        "insert into job (room, number, request_id, name, status, asked, plan, plan_version, state, state_version,"
        " started_at, last_seq)"
        " select 'additives', id, request_id, name, case when retired then 'abandoned' else 'open' end,"
        " design -> 'asked', design -> 'design', 1, outcome, 1, made_at,"
        " coalesce((select max(act.seq) from ladder_act act where act.ladder_id = ladder.id), 0)"
        " from ladder order by id"
    )
    _hang("ladder", "additives")
    op.execute(
        "insert into act (id, job_id, seq, kind, payload, facts, strikes, made_at, recorded_at)"
        " select act.id, ladder.job_id, act.seq, undoing.kind,"
        " act.value - 'undo' || jsonb_build_object('rung', act.rung, 'kind', undoing.kind)"
        " || case when undoing.kind = 'strike' then jsonb_build_object('of', act.kind) else '{}' end,"
        " '{}', undone.id, act.made_at,"
        " act.recorded_at"
        " from ladder_act act join ladder on ladder.id = act.ladder_id"
        " cross join lateral (select case when coalesce((act.value ->> 'undo')::boolean, false) then 'strike'"
        " else act.kind end as kind) undoing"
        f" left join lateral (select other.id from ladder_act other where {_OF_ITS_KIND} and other.seq < act.seq"
        f" and not {_IS_UNDO} and undoing.kind = 'strike' order by other.seq desc limit 1) undone on true"
    )
    op.drop_table("ladder_act")
    for column in ("name", "made_at", "design", "outcome", "retired"):
        op.drop_column("ladder", column)
    op.alter_column("ladder", "id", new_column_name="number")


def _ladders_down() -> None:
    op.alter_column("ladder", "number", new_column_name="id")
    op.create_table(
        "ladder_act",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("ladder_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("rung", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("value", JSONB, nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        sa.Column("recorded_at", WHEN, nullable=False),
        sa.ForeignKeyConstraint(["ladder_id"], ["ladder.id"], name=op.f("fk_ladder_act_ladder_id_ladder")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_ladder_act")),
    )
    op.create_index("ix_ladder_act_ladder_id", "ladder_act", ["ladder_id"])
    op.execute(
        "insert into ladder_act select act.id, ladder.id, act.seq, (act.payload ->> 'rung')::int,"
        " coalesce(act.payload ->> 'of', act.kind), act.payload - 'rung' - 'kind' - 'of'"
        " || case when act.kind = 'strike' then '{\"undo\": true}'::jsonb else '{}' end, act.made_at, act.recorded_at"
        " from act join ladder on ladder.job_id = act.job_id"
    )
    _unhang(
        "ladder",
        {
            "name": (sa.String(), "job.name"),
            "made_at": (WHEN, "job.started_at"),
            "design": (JSONB, "jsonb_build_object('asked', job.asked, 'design', job.plan)"),
            "outcome": (JSONB, "job.state"),
            "retired": (sa.Boolean(), "job.status <> 'open'"),
        },
        ("outcome",),
    )


# Tubes and jars.


def _shelf_up() -> None:
    op.execute(
        "insert into job (room, number, request_id, name, status, started_at, ended_at, last_seq)"
        " select 'shelf', item.id, item.request_id, item.code,"
        " case when item.status in ('kept', 'waiting') then 'open' else 'finished' end,"
        " coalesce(log.began, item.filled_on),"
        " case when item.status in ('kept', 'waiting') then null else log.gone end, coalesce(log.seq, 0)"
        " from shelf_item item left join lateral (select min(event.at) as began,"
        " max(event.at) filter (where event.kind in ('leave', 'regrind')) as gone,"
        " max(event.seq) as seq from shelf_event event where event.item_id = item.id) log on true order by item.id"
    )
    _hang("shelf_item", "shelf")
    op.execute(
        "insert into act (id, job_id, seq, kind, payload, facts, made_at, recorded_at)"
        " select event.id, item.job_id, event.seq, event.kind, coalesce(event.value -> 'asked', '{}'),"
        " event.value - 'asked', event.at, event.recorded_at"
        " from shelf_event event join shelf_item item on item.id = event.item_id"
    )
    op.drop_table("shelf_event")


def _shelf_down() -> None:
    op.create_table(
        "shelf_event",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("item_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("value", JSONB, nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.Column("recorded_at", WHEN, nullable=False),
        sa.ForeignKeyConstraint(["item_id"], ["shelf_item.id"], name=op.f("fk_shelf_event_item_id_shelf_item")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shelf_event")),
        sa.UniqueConstraint("item_id", "seq", name="uq_shelf_event_seq"),
    )
    op.execute(
        "insert into shelf_event select act.id, item.id, act.seq, act.kind,"
        " act.facts || case when act.payload <> '{}' then jsonb_build_object('asked', act.payload) else '{}' end,"
        " act.made_at, act.recorded_at"
        " from act join shelf_item item on item.job_id = act.job_id"
    )
    _unhang("shelf_item", {}, ())
