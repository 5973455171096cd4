"""contents of tubes and jars, paint used from them, and checks of what may stand in a row."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0008"
down_revision = "0007"
branch_labels = None
depends_on = None

CHECKS = (
    ("batch", "status", "status in ('open', 'finished', 'abandoned')"),
    ("batch", "verdict", "verdict in ('stiff', 'right', 'soft')"),
    ("batch", "amounts", "least(pigment_g, oil_g, made_ml, filled_ml, leftover_ml, tubes_filled, last_seq) >= 0"),
    ("lot", "kind", "kind in ('pigment', 'oil', 'additive', 'gel', 'tube', 'jar')"),
    ("lot", "price", "price_per_unit >= 0"),
    ("lot_movement", "reason", "reason in ('received', 'used', 'struck_out', 'weighed_in')"),
    ("rubout", "status", "status in ('open', 'done', 'aborted')"),
    ("rubout", "pigment", "pigment_g between 0.001 and 20000"),
    ("shelf_item", "kind", "kind in ('tube', 'jar')"),
    ("shelf_item", "cover", "cover in ('', 'oil', 'film')"),
    ("shelf_item", "status", "status in ('kept', 'waiting', 'given', 'sold', 'used_up', 'discarded', 'reground')"),
    ("shelf_item", "drawn", "least(drawn_ml, topped_ml) >= 0"),
)
KEYS = (
    ("lot_movement", "batch_number", "batch", "number"),
    ("studio_settings", "default_slab_id", "slab", "id"),
    ("studio_settings", "default_muller_id", "muller", "id"),
)


def upgrade() -> None:
    op.add_column(
        "shelf_item", sa.Column("contents", postgresql.JSONB(), nullable=False, server_default=sa.text("'[]'"))
    )
    op.create_table(
        "item_use",
        sa.Column("act_id", sa.Uuid(), nullable=False),
        sa.Column("item_id", sa.Integer(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("volume_ml", sa.Float(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_item_use_batch_number_batch")),
        sa.ForeignKeyConstraint(["item_id"], ["shelf_item.id"], name=op.f("fk_item_use_item_id_shelf_item")),
        sa.PrimaryKeyConstraint("act_id", name=op.f("pk_item_use")),
    )
    op.create_index(op.f("ix_item_use_batch_number"), "item_use", ["batch_number"])
    op.create_index(op.f("ix_item_use_item_id"), "item_use", ["item_id"])
    op.execute(
        "insert into item_use (act_id, item_id, batch_number, volume_ml, at)"
        " select event.id, event.item_id, (event.value ->> 'batch')::int, item.volume_ml, event.at"
        " from shelf_event event join shelf_item item on item.id = event.item_id where event.kind = 'regrind'"
    )
    # A gel said what was weighed in, not from which lots: the notes of what was drawn for it do.
    for column, kind in (("additive_lot_id", "additive"), ("oil_lot_id", "oil")):
        op.execute(
            f"update lot gel set prepared = gel.prepared || jsonb_build_object('{column}', move.lot_id)"
            " from lot_movement move join lot drawn on drawn.id = move.lot_id"
            f" where gel.kind = 'gel' and drawn.kind = '{kind}' and move.reason = 'used'"
            " and move.note = 'into gel ' || gel.code"
        )
    for table, column, other, key in KEYS:
        op.execute(
            f"update {table} set {column} = null where {column} is not null"
            f" and not exists (select 1 from {other} where {other}.{key} = {table}.{column})"
        )
        op.create_foreign_key(op.f(f"fk_{table}_{column}_{other}"), table, other, [column], [key])
    for table, name, condition in CHECKS:
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, condition)


def downgrade() -> None:
    for table, name, _ in CHECKS:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table)
    for table, column, other, _ in KEYS:
        op.drop_constraint(op.f(f"fk_{table}_{column}_{other}"), table)
    op.execute("update lot set prepared = prepared - 'additive_lot_id' - 'oil_lot_id' where prepared is not null")
    op.drop_table("item_use")
    op.drop_column("shelf_item", "contents")
