"""sticks: bases, moulds, sets, pots, recipes; waxes and base blocks in stock, sticks on the shelf."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0016"
down_revision = "0015"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)
JSONB = postgresql.JSONB()
ROOMS = "'slab', 'rubout', 'additives', 'gels', 'shelf', 'checks'"
LOTS = "'pigment', 'oil', 'additive', 'gel', 'tube', 'jar'"


def _named(table: str, *kept: sa.schema.SchemaItem) -> None:
    op.create_table(
        table,
        sa.Column("id", sa.Integer(), nullable=False),
        *kept,
        sa.PrimaryKeyConstraint("id", name=op.f(f"pk_{table}")),
    )


def _checked(table: str, name: str, says: str) -> None:
    op.drop_constraint(op.f(f"ck_{table}_{name}"), table)
    op.create_check_constraint(op.f(f"ck_{table}_{name}"), table, says)


def _known(table: str, column: str, other: str, key: str = "id") -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint([column], [f"{other}.{key}"], name=op.f(f"fk_{table}_{column}_{other}"))


def upgrade() -> None:
    _checked("job", "room", f"room in ({ROOMS}, 'sticks', 'bases')")
    _checked("lot", "kind", f"kind in ({LOTS}, 'wax', 'base')")
    _checked("shelf_item", "kind", "kind in ('tube', 'jar', 'stick')")
    _named(
        "stick_base",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("note", sa.String(), server_default="", nullable=False),
        sa.Column("added_at", WHEN, nullable=False),
        sa.UniqueConstraint("name", name=op.f("uq_stick_base_name")),
    )
    _named(
        "stick_base_version",
        sa.Column("base_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("parts", JSONB, nullable=False),
        sa.Column("why", sa.String(), server_default="", nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        _known("stick_base_version", "base_id", "stick_base"),
        sa.UniqueConstraint("base_id", "version", name="uq_stick_base_version_version"),
        sa.CheckConstraint("version > 0", name=op.f("ck_stick_base_version_version")),
    )
    _named(
        "stick_mould",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("ml", sa.Double(), nullable=False),
        sa.Column("retired", sa.Boolean(), server_default=sa.false(), nullable=False),
        sa.UniqueConstraint("name", name=op.f("uq_stick_mould_name")),
        sa.CheckConstraint("ml between 0.1 and 5000", name=op.f("ck_stick_mould_ml")),
    )
    _named(
        "stick_recipe",
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("colour", JSONB, nullable=False),
        sa.Column("base_id", sa.Integer(), nullable=False),
        sa.Column("oil_key", sa.String(), nullable=False),
        sa.Column("target_dmm", sa.Double(), nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        _known("stick_recipe", "base_id", "stick_base"),
        sa.UniqueConstraint("name", name=op.f("uq_stick_recipe_name")),
        sa.CheckConstraint("target_dmm between 0.1 and 400", name=op.f("ck_stick_recipe_target")),
    )
    _named(
        "stick_set",
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("asked", JSONB, nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        sa.UniqueConstraint("request_id", name=op.f("uq_stick_set_request_id")),
    )
    op.create_table(
        "stick_pot",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("set_id", sa.Integer(), nullable=True),
        sa.Column("base_version_id", sa.Integer(), nullable=False),
        sa.Column("recipe_id", sa.Integer(), nullable=True),
        sa.Column("masstone_srgb", sa.String(), nullable=False),
        sa.Column("target_dmm", sa.Double(), nullable=False),
        sa.Column("dent_dmm", sa.Double(), nullable=True),
        sa.Column("verdict", sa.String(), nullable=True),
        sa.Column("sticks", sa.Integer(), server_default="0", nullable=False),
        sa.Column("sticks_g", sa.Double(), nullable=True),
        sa.Column("lot_ids", postgresql.ARRAY(sa.Integer()), server_default="{}", nullable=False),
        sa.CheckConstraint(
            "verdict in ('too_hard', 'right', 'too_soft', 'crumbles')", name=op.f("ck_stick_pot_verdict")
        ),
        sa.CheckConstraint("least(target_dmm, dent_dmm, sticks, sticks_g) >= 0", name=op.f("ck_stick_pot_amounts")),
        _known("stick_pot", "job_id", "job"),
        _known("stick_pot", "set_id", "stick_set"),
        _known("stick_pot", "base_version_id", "stick_base_version"),
        _known("stick_pot", "recipe_id", "stick_recipe"),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_stick_pot")),
        sa.UniqueConstraint("job_id", name=op.f("uq_stick_pot_job_id")),
    )
    for column in ("set_id", "recipe_id", "base_version_id"):
        op.create_index(f"ix_stick_pot_{column}", "stick_pot", [column])
    op.create_table(
        "stick_reading",
        sa.Column("act_id", sa.Uuid(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.Column("base_version_id", sa.Integer(), nullable=False),
        sa.Column("ln_ratio", sa.Double(), nullable=False),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("at", WHEN, nullable=False),
        sa.CheckConstraint("by in ('needle', 'feel')", name=op.f("ck_stick_reading_by")),
        _known("stick_reading", "act_id", "act"),
        _known("stick_reading", "job_id", "job"),
        _known("stick_reading", "base_version_id", "stick_base_version"),
        sa.PrimaryKeyConstraint("act_id", name=op.f("pk_stick_reading")),
    )
    for column in ("base_version_id", "job_id"):
        op.create_index(f"ix_stick_reading_{column}", "stick_reading", [column])
    op.add_column("shelf_item", sa.Column("pot_number", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_shelf_item_pot_number_stick_pot"), "shelf_item", "stick_pot", ["pot_number"], ["number"]
    )
    op.create_index("ix_shelf_item_pot_number", "shelf_item", ["pot_number"])
    op.add_column("studio_settings", sa.Column("thermometer_port", sa.String(), server_default="", nullable=False))
    op.add_column("studio_settings", sa.Column("needle_on_beeswax_dmm", sa.Double(), nullable=True))
    op.create_check_constraint(
        op.f("ck_studio_settings_needle"), "studio_settings", "needle_on_beeswax_dmm between 0.1 and 400"
    )


def downgrade() -> None:
    op.drop_constraint(op.f("ck_studio_settings_needle"), "studio_settings")
    op.drop_column("studio_settings", "needle_on_beeswax_dmm")
    op.drop_column("studio_settings", "thermometer_port")
    # Nothing of sticks has a place in an earlier shape: their own records, what they drew, and their shelf, go.
    gone = "select id from job where room in ('sticks', 'bases')"
    stick = "select job_id from shelf_item where kind = 'stick'"
    lots = "select id from lot where kind in ('wax', 'base')"
    items = "select id from shelf_item where kind = 'stick'"
    op.execute("delete from stick_reading")
    for table, where in (
        ("output", f"job_id in ({gone}) or lot_id in ({lots}) or item_id in ({items})"),
        ("item_use", f"job_id in ({gone}) or item_id in ({items})"),
        ("lot_movement", f"lot_id in ({lots})"),
        ("photo", f"id in (select id from act where job_id in ({gone}) or job_id in ({stick}))"),
    ):
        op.execute(f"delete from {table} where {where}")
    # What was drawn of lots that stay was drawn, whatever for.
    op.execute(f"update lot_movement set job_id = null, note = 'into sticks' where job_id in ({gone})")
    op.execute("create temporary table of_sticks as select job_id as id from shelf_item where kind = 'stick'")
    op.execute("delete from shelf_item where kind = 'stick'")
    op.drop_column("shelf_item", "pot_number")
    op.drop_table("stick_reading")
    op.drop_table("stick_pot")
    op.execute(f"delete from act where job_id in ({gone}) or job_id in (select id from of_sticks)")
    op.execute(f"delete from job where id in ({gone}) or id in (select id from of_sticks)")
    op.execute("drop table of_sticks")
    op.execute("delete from lot where kind in ('wax', 'base')")
    op.execute("delete from own_material where kind = 'wax'")
    for table in ("stick_set", "stick_recipe", "stick_mould", "stick_base_version", "stick_base"):
        op.drop_table(table)
    _checked("shelf_item", "kind", "kind in ('tube', 'jar')")
    _checked("lot", "kind", f"kind in ({LOTS})")
    _checked("job", "room", f"room in ({ROOMS})")
