"""sludge: cans, dishes and what they came from; lots that are still wet."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0018"
down_revision = "0017"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)
ROOMS = "'slab', 'rubout', 'additives', 'gels', 'shelf', 'checks', 'sticks', 'bases'"


def _known(table: str, column: str, other: str, key: str = "id") -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{other}.{key}"], name=op.f(f"fk_{table}_{column}_{other}"))


def _rooms(says: str) -> None:
    op.drop_constraint(op.f("ck_job_room"), "job")
    op.create_check_constraint(op.f("ck_job_room"), "job", f"room in ({says})")


def upgrade() -> None:
    _rooms(f"{ROOMS}, 'cans', 'dishes'")
    op.create_table(
        "wash_can",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("solvent_key", sa.String(), nullable=False),
        sa.Column("place", sa.String(), server_default="", nullable=False),
        sa.Column("tare_g", sa.Double(), nullable=True),
        sa.Column("holds_ml", sa.Double(), nullable=True),
        sa.Column("price_per_l", sa.Numeric(12, 4), nullable=True),
        sa.CheckConstraint("tare_g between 0 and 20000", name=op.f("ck_wash_can_tare")),
        sa.CheckConstraint("holds_ml between 1 and 20000", name=op.f("ck_wash_can_holds")),
        sa.CheckConstraint("price_per_l >= 0", name=op.f("ck_wash_can_price")),
        _known("wash_can", "job_id", "job"),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_wash_can")),
        sa.UniqueConstraint("job_id", name=op.f("uq_wash_can_job_id")),
    )
    op.create_table(
        "sludge_dish",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("can_number", sa.Integer(), nullable=False),
        sa.Column("method", sa.String(), nullable=False),
        sa.Column("solvent_key", sa.String(), nullable=False),
        sa.Column("place", sa.String(), server_default="", nullable=False),
        sa.Column("tare_g", sa.Double(), server_default="0", nullable=False),
        sa.Column("makeup", postgresql.JSONB(), nullable=False),
        sa.Column("ready_at", WHEN, nullable=True),
        sa.Column("tau_h", sa.Double(), nullable=True),
        sa.Column("dry_g", sa.Double(), nullable=True),
        sa.CheckConstraint("method in ('squeeze', 'evaporate', 'drain')", name=op.f("ck_sludge_dish_method")),
        sa.CheckConstraint("least(tare_g, tau_h, dry_g) >= 0", name=op.f("ck_sludge_dish_amounts")),
        _known("sludge_dish", "job_id", "job"),
        _known("sludge_dish", "can_number", "wash_can", "number"),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_sludge_dish")),
        sa.UniqueConstraint("job_id", name=op.f("uq_sludge_dish_job_id")),
    )
    op.create_index("ix_sludge_dish_can_number", "sludge_dish", ["can_number"])
    op.create_table(
        "sludge_source",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=True),
        sa.Column("item_id", sa.Integer(), nullable=True),
        sa.Column("of_job_id", sa.BigInteger(), nullable=True),
        sa.CheckConstraint("num_nonnulls(lot_id, item_id, of_job_id) = 1", name=op.f("ck_sludge_source_one")),
        _known("sludge_source", "job_id", "job"),
        _known("sludge_source", "lot_id", "lot"),
        _known("sludge_source", "item_id", "shelf_item"),
        sa.ForeignKeyConstraint(["of_job_id"], ["job.id"], name=op.f("fk_sludge_source_of_job_id_job")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_sludge_source")),
    )
    for column in ("job_id", "lot_id", "item_id", "of_job_id"):
        op.create_index(f"ix_sludge_source_{column}", "sludge_source", [column])
    op.add_column("lot", sa.Column("liquid_share", sa.Double(), nullable=True))
    op.add_column("lot", sa.Column("liquid_density_g_per_ml", sa.Double(), nullable=True))
    op.create_check_constraint(op.f("ck_lot_liquid"), "lot", "liquid_share between 0 and 0.95")
    op.add_column("studio_settings", sa.Column("bought_tube_price", sa.Numeric(12, 4), nullable=True))


def downgrade() -> None:
    op.drop_column("studio_settings", "bought_tube_price")
    # A cake that is still in stock is a lot of pigment like any other, and stays.
    gone = "select id from job where room in ('cans', 'dishes')"
    op.execute(f"delete from output where job_id in ({gone})")
    op.execute(f"update lot_movement set job_id = null where job_id in ({gone})")
    op.execute(f"delete from photo where id in (select id from act where job_id in ({gone}))")
    for table in ("sludge_source", "sludge_dish", "wash_can"):
        op.drop_table(table)
    op.execute(f"delete from act where job_id in ({gone})")
    op.execute("delete from job where room in ('cans', 'dishes')")
    op.drop_constraint(op.f("ck_lot_liquid"), "lot")
    op.drop_column("lot", "liquid_density_g_per_ml")
    op.drop_column("lot", "liquid_share")
    _rooms(ROOMS)
