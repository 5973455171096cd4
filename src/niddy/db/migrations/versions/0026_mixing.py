"""mixing: paints in numbers, their readings, charts; which white is the studio's, and how its reader sees shine."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0026"
down_revision = "0025"
branch_labels = None
depends_on = None

ROOMS = (
    "'slab', 'rubout', 'additives', 'gels', 'shelf', 'checks', 'sticks', 'bases', 'cans', 'dishes', 'runs', 'practice'"
)


def _rooms(says: str) -> None:
    op.drop_constraint(op.f("ck_job_room"), "job")
    op.create_check_constraint(op.f("ck_job_room"), "job", f"room in ({says})")


def upgrade() -> None:
    _rooms(f"{ROOMS}, 'charts'")
    op.create_table(
        "mixing_paint",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("tinting", sa.String(), nullable=False),
        sa.Column("swatch_srgb", sa.String(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=True),
        sa.Column("item_id", sa.Integer(), nullable=True),
        sa.Column("strength_ln", sa.Double(), nullable=True),
        sa.Column("strength_sd", sa.Double(), nullable=True),
        sa.Column("squares", sa.Integer(), server_default="0", nullable=False),
        sa.Column("retired", sa.Boolean(), server_default="false", nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=True),
        sa.CheckConstraint("num_nonnulls(batch_number, item_id) <= 1", name=op.f("ck_mixing_paint_of")),
        sa.CheckConstraint("num_nonnulls(strength_ln, strength_sd) in (0, 2)", name=op.f("ck_mixing_paint_strength")),
        sa.CheckConstraint("squares >= 0", name=op.f("ck_mixing_paint_squares")),
        sa.CheckConstraint("tinting in ('none', 'low', 'medium', 'high')", name=op.f("ck_mixing_paint_tinting")),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_mixing_paint_batch_number_batch")),
        sa.ForeignKeyConstraint(["item_id"], ["shelf_item.id"], name=op.f("fk_mixing_paint_item_id_shelf_item")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_mixing_paint")),
        sa.UniqueConstraint("batch_number", name=op.f("uq_mixing_paint_batch_number")),
        sa.UniqueConstraint("item_id", name=op.f("uq_mixing_paint_item_id")),
        sa.UniqueConstraint("request_id", name=op.f("uq_mixing_paint_request_id")),
    )
    op.create_table(
        "mixing_reading",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("paint_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("facts", JSONB(), nullable=False),
        sa.Column("white_parts", sa.Double(), nullable=True),
        sa.Column("white_id", sa.Integer(), nullable=True),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("set_aside", sa.String(), nullable=True),
        sa.CheckConstraint("kind in ('masstone', 'tint')", name=op.f("ck_mixing_reading_kind")),
        sa.CheckConstraint("white_parts between 0.05 and 1000", name=op.f("ck_mixing_reading_white_parts")),
        *(
            sa.ForeignKeyConstraint([name], ["mixing_paint.id"], name=op.f(f"fk_mixing_reading_{name}_mixing_paint"))
            for name in ("paint_id", "white_id")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_mixing_reading")),
    )
    op.create_index("ix_mixing_reading_paint_id", "mixing_reading", ["paint_id", "made_at"])
    op.create_table(
        "mixing_chart",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("job_id", sa.BigInteger(), nullable=False),
        sa.ForeignKeyConstraint(["job_id"], ["job.id"], name=op.f("fk_mixing_chart_job_id_job")),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_mixing_chart")),
        sa.UniqueConstraint("job_id", name=op.f("uq_mixing_chart_job_id")),
    )
    op.add_column("studio_settings", sa.Column("white_paint_id", sa.Integer(), nullable=True))
    op.create_foreign_key(
        op.f("fk_studio_settings_white_paint_id_mixing_paint"),
        "studio_settings",
        "mixing_paint",
        ["white_paint_id"],
        ["id"],
    )
    op.add_column("studio_settings", sa.Column("shine", sa.String(), server_default="without", nullable=False))
    op.create_check_constraint(
        op.f("ck_studio_settings_shine"), "studio_settings", "shine in ('with', 'without', 'off')"
    )
    # What was read already need not be read again.
    op.execute(
        "insert into mixing_paint (name, tinting, swatch_srgb, batch_number, added_at)"
        " select job.name, case when jsonb_array_length(job.plan -> 'lines') = 1"
        " then coalesce(job.plan #>> '{lines,0,pigment,tinting}', 'medium') else 'medium' end,"
        " batch.masstone_srgb, batch.number, now()"
        " from batch join job on job.id = batch.job_id"
        " where exists (select 1 from batch_check where batch_number = batch.number"
        " and batch_check.kind in ('masstone', 'tint'))"
        " or exists (select 1 from shelf_item where batch_number = batch.number and kind <> 'stick')"
        " order by batch.number"
    )
    op.execute(
        "insert into mixing_paint (name, tinting, swatch_srgb, item_id, added_at)"
        " select name, 'medium', masstone_srgb, id, now() from shelf_item"
        " where batch_number is null and pot_number is null and kind <> 'stick' order by id"
    )


def downgrade() -> None:
    op.drop_constraint(op.f("ck_studio_settings_shine"), "studio_settings")
    op.drop_column("studio_settings", "shine")
    op.drop_constraint(op.f("fk_studio_settings_white_paint_id_mixing_paint"), "studio_settings")
    op.drop_column("studio_settings", "white_paint_id")
    op.drop_table("mixing_chart")
    op.drop_table("mixing_reading")
    op.drop_table("mixing_paint")
    op.execute("delete from act where job_id in (select id from job where room = 'charts')")
    op.execute("delete from job where room = 'charts'")
    _rooms(ROOMS)
