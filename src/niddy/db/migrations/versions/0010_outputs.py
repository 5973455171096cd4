"""what a job draws and what it makes: movements and uses by job, outputs, gels as jobs."""

import sqlalchemy as sa
from alembic import op

revision = "0010"
down_revision = "0009"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "output",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("act_id", sa.Uuid(), nullable=True),
        sa.Column("lot_id", sa.Integer(), nullable=True),
        sa.Column("item_id", sa.Integer(), nullable=True),
        sa.Column("amount", sa.Double(), nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.CheckConstraint("num_nonnulls(lot_id, item_id) = 1", name=op.f("ck_output_one")),
        sa.CheckConstraint("amount >= 0", name=op.f("ck_output_amount")),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_output_job_id_job")),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_output_lot_id_lot")),
        sa.ForeignKeyConstraint(["item_id"], ["shelf_item.id"], name=op.f("fk_output_item_id_shelf_item")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_output")),
    )
    for column in ("job_id", "lot_id", "item_id"):
        op.create_index(op.f(f"ix_output_{column}"), "output", [column])
    for table in ("lot_movement", "item_use"):
        op.add_column(table, sa.Column("job_id", sa.BigInteger(), nullable=True))
        op.execute(f"update {table} set job_id = batch.job_id from batch where batch.number = {table}.batch_number")
        op.drop_constraint(op.f(f"fk_{table}_batch_number_batch"), table)
        op.drop_column(table, "batch_number")
        op.create_foreign_key(op.f(f"fk_{table}_job_id_job"), table, "job", ["job_id"], ["id"])
        op.create_index(op.f(f"ix_{table}_job_id"), table, ["job_id"])
    op.alter_column("item_use", "job_id", nullable=False)
    op.drop_constraint("uq_lot_movement_event", "lot_movement")
    op.alter_column("lot_movement", "event_id", new_column_name="act_id")
    op.create_unique_constraint("uq_lot_movement_act", "lot_movement", ["act_id", "lot_id", "reason"])
    for number, amount in (("batch_number", "drawn_ml"), ("topped_by", "topped_ml")):
        op.execute(
            "insert into output (job_id, item_id, amount, at)"
            f" select batch.job_id, item.id, item.{amount}, coalesce(job.started_at, item.filled_on)"
            f" from shelf_item item join batch on batch.number = item.{number} join job on job.id = item.job_id"
            " order by item.id"
        )
    op.drop_constraint(op.f("ck_shelf_item_drawn"), "shelf_item")
    op.drop_column("shelf_item", "drawn_ml")
    op.drop_column("shelf_item", "topped_ml")
    # A gel is a job as any other: it drew on its lots and made one.
    op.execute(
        "insert into job (room, number, request_id, name, status, started_at, ended_at)"
        " select 'gels', gel.id, md5('gel-' || gel.id)::uuid, gel.code, 'finished', came.at, came.at"
        " from lot gel join lateral (select min(move.at) as at from lot_movement move where move.lot_id = gel.id"
        " and move.reason = 'received') came on true where gel.kind = 'gel' order by gel.id"
    )
    op.execute(
        "insert into output (job_id, lot_id, amount, at) select job.id, gel.id, gel.received, job.started_at"
        " from lot gel join job on job.room = 'gels' and job.number = gel.id"
    )
    op.execute(
        "update lot_movement move set job_id = job.id from lot gel join job on job.room = 'gels'"
        " and job.number = gel.id where move.reason = 'used' and move.job_id is null"
        " and move.note = 'into gel ' || gel.code and move.lot_id in"
        " ((gel.prepared ->> 'additive_lot_id')::int, (gel.prepared ->> 'oil_lot_id')::int)"
    )
    op.execute("update lot set prepared = prepared - 'additive_lot_id' - 'oil_lot_id' where kind = 'gel'")


def downgrade() -> None:
    for column, kind in (("additive_lot_id", "additive"), ("oil_lot_id", "oil")):
        op.execute(
            f"update lot gel set prepared = gel.prepared || jsonb_build_object('{column}', (select move.lot_id"
            " from lot_movement move join job on job.id = move.job_id join lot drawn on drawn.id = move.lot_id"
            f" where job.room = 'gels' and job.number = gel.id and drawn.kind = '{kind}' limit 1))"
            " where gel.kind = 'gel'"
        )
    op.execute("update lot_movement set job_id = null where job_id in (select id from job where room = 'gels')")
    op.execute("delete from output where lot_id is not null")
    op.execute("delete from job where room = 'gels'")
    op.add_column("shelf_item", sa.Column("topped_ml", sa.Double(), nullable=True))
    op.add_column("shelf_item", sa.Column("drawn_ml", sa.Double(), nullable=True))
    for number, amount in (("batch_number", "drawn_ml"), ("topped_by", "topped_ml")):
        op.execute(
            f"update shelf_item item set {amount} = output.amount from output join batch on batch.job_id ="
            f" output.job_id where output.item_id = item.id and batch.number = item.{number}"
        )
    op.execute("update shelf_item set drawn_ml = coalesce(drawn_ml, volume_ml), topped_ml = coalesce(topped_ml, 0)")
    for column in ("drawn_ml", "topped_ml"):
        op.alter_column("shelf_item", column, nullable=False)
    op.create_check_constraint(op.f("ck_shelf_item_drawn"), "shelf_item", "least(drawn_ml, topped_ml) >= 0")
    op.drop_constraint("uq_lot_movement_act", "lot_movement")
    op.alter_column("lot_movement", "act_id", new_column_name="event_id")
    # An act that drew on several lots has a row for each: the old uniqueness knew one a reason.
    op.execute(
        "update lot_movement move set event_id = md5(move.event_id::text || move.lot_id)::uuid where exists (select 1"
        " from lot_movement other where other.event_id = move.event_id and other.reason = move.reason"
        " and other.lot_id < move.lot_id)"
    )
    op.create_unique_constraint("uq_lot_movement_event", "lot_movement", ["event_id", "reason"])
    for table in ("lot_movement", "item_use"):
        op.add_column(table, sa.Column("batch_number", sa.Integer(), nullable=True))
        op.execute(f"update {table} set batch_number = batch.number from batch where batch.job_id = {table}.job_id")
        op.create_foreign_key(op.f(f"fk_{table}_batch_number_batch"), table, "batch", ["batch_number"], ["number"])
        op.drop_column(table, "job_id")
    op.alter_column("item_use", "batch_number", nullable=False)
    op.create_index(op.f("ix_item_use_batch_number"), "item_use", ["batch_number"])
    op.drop_table("output")
