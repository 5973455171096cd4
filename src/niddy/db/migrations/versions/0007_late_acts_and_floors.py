"""late acts, what a filling drew, lots of additives, floors of amounts."""

import json

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

from niddy.reference import library

revision = "0007"
down_revision = "0006"
branch_labels = None
depends_on = None

FLOORS = (
    ("lot", "received", "received", 0.001, 100_000),
    ("lot", "density", "density_g_per_ml", 0.01, 25),
    ("lot", "loose_density", "loose_density_g_per_ml", 0.01, 25),
    ("lot", "drop", "drop_g", 0.0005, 1),
    ("slab", "area", "area_cm2", 1, 100_000),
    ("slab", "film", "film_mm", 0.01, 20),
    ("muller", "face", "face_mm", 1, 500),
    ("tube_type", "usable", "usable_ml", 0.1, 20_000),
    ("shelf_item", "volume", "volume_ml", 0.01, 20_000),
)
DAYS = (("lot", "received_on"), ("shelf_item", "filled_on"))


def upgrade() -> None:
    op.create_table(
        "late_act",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("payload", postgresql.JSONB(), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("came_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("decision", sa.String(), nullable=False),
        sa.Column("decided_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("words", sa.String(), nullable=False),
        sa.CheckConstraint("decision in ('', 'taken', 'left')", name=op.f("ck_late_act_decision")),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_late_act_batch_number_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_late_act")),
    )
    op.create_index(op.f("ix_late_act_batch_number"), "late_act", ["batch_number"])

    op.add_column("batch", sa.Column("late_waiting", sa.Integer(), nullable=False, server_default="0"))
    op.create_index("ix_batch_late_waiting", "batch", ["number"], postgresql_where=sa.text("late_waiting > 0"))

    # What a filling drew was not kept: what is in the tube now, less what topped it up, is the nearest there is.
    op.add_column("shelf_item", sa.Column("topped_ml", sa.Float(), nullable=False, server_default="0"))
    op.execute(
        "update shelf_item set topped_ml = (event.value ->> 'taken_ml')::float from shelf_event event"
        " where event.item_id = shelf_item.id and event.kind = 'topped_up' and shelf_item.topped_by is not null"
    )
    op.add_column("shelf_item", sa.Column("drawn_ml", sa.Float(), nullable=False, server_default="0"))
    op.execute("update shelf_item set drawn_ml = greatest(0, volume_ml - topped_ml)")
    for column in ("topped_ml", "drawn_ml"):
        op.alter_column("shelf_item", column, server_default=None)
    op.add_column("batch", sa.Column("tubes_counted", sa.Integer(), nullable=True))
    op.execute(
        "update batch set tubes_counted = found.tubes from (select batch_number,"
        " count(*) filter (where kind = 'tube') as tubes from shelf_item where batch_number is not null"
        " group by batch_number) found where found.batch_number = batch.number"
    )
    # Additives were not among a batch's lots: those of its plan and those its log names are now.
    op.execute(
        "update batch set lot_ids = (select coalesce(array_agg(distinct one order by one), '{}') from ("
        " select unnest(batch.lot_ids) as one"
        " union select (line -> 'dosing' ->> 'lot_id')::int"
        "  from jsonb_array_elements(coalesce(batch.plan -> 'plan' -> 'additives', '[]'::jsonb)) line"
        "  where line -> 'dosing' ->> 'lot_id' is not null"
        " union select substr(event.payload ->> 'source', 5)::int from batch_event event"
        "  where event.batch_number = batch.number and event.kind = 'additive'"
        "  and event.payload ->> 'source' ~ '^lot-[0-9]{1,9}$') lots where one is not null)"
    )
    _say_hazards_of_additives()
    for table, name, column, low, high in FLOORS:
        op.execute(f"update {table} set {column} = least({high}, greatest({low}, {column})) where {column} is not null")
        op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, f"{column} between {low:g} and {high:.0f}")
    for table, column in DAYS:
        op.execute(f"update {table} set {column} = least(date '2199-12-31', greatest(date '1900-01-01', {column}))")
        op.create_check_constraint(
            op.f(f"ck_{table}_{column}"), table, f"{column} between '1900-01-01' and '2199-12-31'"
        )


def _say_hazards_of_additives() -> None:
    """An additive in a paste did not say its hazards: those of the library's entry, by its lot or by its own key."""
    hazards = {key: list(one.hazards) for key, one in library().additives.items()}
    connection = op.get_bind()
    lots = connection.execute(sa.text("select id, material_key from lot where kind in ('additive', 'gel')"))
    told = {f"lot-{lot_id}": hazards.get(key, []) for lot_id, key in lots}
    told |= {f"library-{key}": keys for key, keys in hazards.items()}
    for source, keys in told.items():
        said = {"source": source, "keys": json.dumps(keys)}
        connection.execute(
            sa.text(
                "update batch_event set facts = jsonb_set(facts, '{additive,hazards}', cast(:keys as jsonb))"
                " where kind = 'additive' and facts -> 'additive' ->> 'source' = :source"
            ),
            said,
        )
        connection.execute(
            sa.text(
                "update batch set paste = jsonb_set(paste, array['additives', :source, 'what', 'hazards'],"
                " cast(:keys as jsonb)) where paste -> 'additives' ? :source"
            ),
            said,
        )


def downgrade() -> None:
    for table, column in DAYS:
        op.drop_constraint(op.f(f"ck_{table}_{column}"), table)
    for table, name, *_ in FLOORS:
        op.drop_constraint(op.f(f"ck_{table}_{name}"), table)
    op.drop_column("batch", "tubes_counted")
    op.drop_index("ix_batch_late_waiting", table_name="batch")
    op.drop_column("batch", "late_waiting")
    op.drop_column("shelf_item", "drawn_ml")
    op.drop_column("shelf_item", "topped_ml")
    # Acts that came late cannot be told by the older tables; each stays as a note of its batch.
    op.execute(
        "insert into batch_event (id, batch_number, seq, kind, payload, facts, made_at, recorded_at)"
        " select late.id, late.batch_number, batch.last_seq + row_number() over (partition by late.batch_number"
        " order by late.came_at, late.id), 'note', jsonb_build_object('id', late.id, 'kind', 'note', 'made_at',"
        " late.made_at, 'text', 'came late: ' || late.payload::text), '{}'::jsonb, late.made_at, late.came_at"
        " from late_act late join batch on batch.number = late.batch_number where late.decision <> 'taken'"
    )
    op.execute(
        "update batch set last_seq = found.last from (select batch_number, max(seq) as last from batch_event"
        " group by batch_number) found where found.batch_number = batch.number and found.last > batch.last_seq"
    )
    op.drop_table("late_act")
