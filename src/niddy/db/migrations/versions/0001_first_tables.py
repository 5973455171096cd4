"""first tables."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0001"
down_revision = None
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "batch",
        sa.Column("number", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("masstone_srgb", sa.String(), nullable=False),
        sa.Column("status", sa.String(), nullable=False),
        sa.Column("verdict", sa.String(), nullable=True),
        sa.Column("plan", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("pigment_keys", postgresql.ARRAY(sa.String()), nullable=False),
        sa.Column("lot_ids", postgresql.ARRAY(sa.Integer()), nullable=False),
        sa.Column("oil_name", sa.String(), nullable=False),
        sa.Column("started_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("last_seq", sa.Integer(), nullable=False),
        sa.Column("paste", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("pigment_g", sa.Double(), nullable=False),
        sa.Column("oil_g", sa.Double(), nullable=False),
        sa.Column("made_ml", sa.Double(), nullable=False),
        sa.Column("filled_ml", sa.Double(), nullable=False),
        sa.Column("leftover_ml", sa.Double(), nullable=False),
        sa.Column("tubes_filled", sa.Integer(), nullable=False),
        sa.PrimaryKeyConstraint("number", name=op.f("pk_batch")),
        sa.UniqueConstraint("request_id", name=op.f("uq_batch_request_id")),
    )
    op.create_index("ix_batch_lot_ids", "batch", ["lot_ids"], unique=False, postgresql_using="gin")
    op.create_index("ix_batch_pigment_keys", "batch", ["pigment_keys"], unique=False, postgresql_using="gin")
    op.create_index("ix_batch_started_at", "batch", ["started_at"], unique=False)
    op.create_index("ix_batch_status_started_at", "batch", ["status", "started_at"], unique=False)
    op.create_table(
        "lot",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("material_key", sa.String(), nullable=False),
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("received_on", sa.Date(), nullable=False),
        sa.Column("received", sa.Double(), nullable=False),
        sa.Column("on_hand", sa.Double(), nullable=False),
        sa.Column("price_per_unit", sa.Numeric(precision=12, scale=4), nullable=True),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("density_g_per_ml", sa.Double(), nullable=True),
        sa.Column("loose_density_g_per_ml", sa.Double(), nullable=True),
        sa.Column("drop_g", sa.Double(), nullable=True),
        sa.Column("used_up", sa.Boolean(), nullable=False),
        sa.Column("supplier_code", sa.String(), nullable=False),
        sa.Column("opened_on", sa.Date(), nullable=True),
        sa.Column("safety_note", sa.String(), nullable=False),
        sa.Column("hazards", postgresql.ARRAY(sa.String()), nullable=True),
        sa.Column("demand_g_per_100g", sa.Double(), nullable=True),
        sa.Column("demand_sd_ln", sa.Double(), nullable=True),
        sa.Column("demand_basis", sa.String(), nullable=True),
        sa.Column("demand_says", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_lot")),
        sa.UniqueConstraint("code", name=op.f("uq_lot_code")),
    )
    op.create_index(op.f("ix_lot_material_key"), "lot", ["material_key"], unique=False)
    op.create_table(
        "muller",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("face_mm", sa.Double(), nullable=False),
        sa.Column("tooth", sa.String(), nullable=False),
        sa.Column("retired", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_muller")),
        sa.UniqueConstraint("name", name=op.f("uq_muller_name")),
    )
    op.create_table(
        "own_material",
        sa.Column("key", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("values", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("added_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("key", name=op.f("pk_own_material")),
    )
    op.create_table(
        "pigment_demand",
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("entered_low", sa.Double(), nullable=True),
        sa.Column("entered_high", sa.Double(), nullable=True),
        sa.Column("entered_from", sa.String(), nullable=False),
        sa.Column("unseen_g_per_100g", sa.Double(), nullable=False),
        sa.Column("unseen_sd_ln", sa.Double(), nullable=False),
        sa.Column("basis", sa.String(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.PrimaryKeyConstraint("pigment_key", name=op.f("pk_pigment_demand")),
    )
    op.create_table(
        "saved_plan",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("wish", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("saved_at", sa.DateTime(timezone=True), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_saved_plan")),
    )
    op.create_table(
        "slab",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("area_cm2", sa.Double(), nullable=False),
        sa.Column("tooth", sa.String(), nullable=False),
        sa.Column("film_mm", sa.Double(), nullable=True),
        sa.Column("retired", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_slab")),
        sa.UniqueConstraint("name", name=op.f("uq_slab_name")),
    )
    op.create_table(
        "studio_settings",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("spoon_set", sa.String(), nullable=False),
        sa.Column("default_reduced_pvc", sa.Double(), nullable=False),
        sa.Column("default_slab_id", sa.Integer(), nullable=True),
        sa.Column("default_muller_id", sa.Integer(), nullable=True),
        sa.Column("mass_unit", sa.String(), nullable=False),
        sa.Column("currency", sa.String(), nullable=False),
        sa.CheckConstraint("id = 1", name=op.f("ck_studio_settings_one_row")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_studio_settings")),
    )
    op.create_table(
        "tube_type",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("usable_ml", sa.Double(), nullable=False),
        sa.Column("retired", sa.Boolean(), nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_tube_type")),
        sa.UniqueConstraint("name", name=op.f("uq_tube_type_name")),
    )
    op.create_table(
        "batch_event",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("payload", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("facts", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("made_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("recorded_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_batch_event_batch_number_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_batch_event")),
        sa.UniqueConstraint("batch_number", "seq", name="uq_batch_event_seq"),
    )
    op.create_table(
        "demand_record",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("ref", sa.Integer(), nullable=False),
        sa.Column("says", sa.String(), nullable=False),
        sa.Column("oil_absorption_g_per_100g", sa.Double(), nullable=False),
        sa.Column("sd_ln", sa.Double(), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("set_aside", sa.String(), nullable=True),
        sa.Column("void", sa.Boolean(), nullable=False),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_demand_record_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_demand_record")),
        sa.UniqueConstraint("kind", "ref", name="uq_demand_record_ref"),
    )
    op.create_index("ix_demand_record_pigment_key", "demand_record", ["pigment_key"], unique=False)
    op.create_table(
        "lot_movement",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("change", sa.Double(), nullable=False),
        sa.Column("reading", sa.Double(), nullable=True),
        sa.Column("event_id", sa.Uuid(), nullable=True),
        sa.Column("batch_number", sa.Integer(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_lot_movement_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_lot_movement")),
        sa.UniqueConstraint("event_id", "reason", name="uq_lot_movement_event"),
    )
    op.create_index("ix_lot_movement_lot_id", "lot_movement", ["lot_id"], unique=False)
    op.create_table(
        "rubout",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("lot_id", sa.Integer(), nullable=False),
        sa.Column("pigment_key", sa.String(), nullable=False),
        sa.Column("pigment_g", sa.Double(), nullable=False),
        sa.Column("oil", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("temperature_c", sa.Double(), nullable=True),
        sa.Column("begun_at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("ended_at", sa.DateTime(timezone=True), nullable=True),
        sa.Column("status", sa.String(), nullable=False),
        sa.Column("reason", sa.String(), nullable=False),
        sa.Column("result_g_per_100g", sa.Double(), nullable=True),
        sa.ForeignKeyConstraint(["lot_id"], ["lot.id"], name=op.f("fk_rubout_lot_id_lot")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rubout")),
        sa.UniqueConstraint("request_id", name=op.f("uq_rubout_request_id")),
    )
    op.create_index(op.f("ix_rubout_lot_id"), "rubout", ["lot_id"], unique=False)
    op.create_table(
        "rubout_step",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("rubout_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("measure", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("mass", postgresql.JSONB(astext_type=sa.Text()), nullable=True),
        sa.Column("undoes", sa.Uuid(), nullable=True),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["rubout_id"], ["rubout.id"], name=op.f("fk_rubout_step_rubout_id_rubout")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_rubout_step")),
        sa.UniqueConstraint("rubout_id", "seq", name="uq_rubout_step_seq"),
    )


def downgrade() -> None:
    op.drop_table("rubout_step")
    op.drop_index(op.f("ix_rubout_lot_id"), table_name="rubout")
    op.drop_table("rubout")
    op.drop_index("ix_lot_movement_lot_id", table_name="lot_movement")
    op.drop_table("lot_movement")
    op.drop_index("ix_demand_record_pigment_key", table_name="demand_record")
    op.drop_table("demand_record")
    op.drop_table("batch_event")
    op.drop_table("tube_type")
    op.drop_table("studio_settings")
    op.drop_table("slab")
    op.drop_table("saved_plan")
    op.drop_table("pigment_demand")
    op.drop_table("own_material")
    op.drop_table("muller")
    op.drop_index(op.f("ix_lot_material_key"), table_name="lot")
    op.drop_table("lot")
    op.drop_index("ix_batch_status_started_at", table_name="batch")
    op.drop_index("ix_batch_started_at", table_name="batch")
    op.drop_index("ix_batch_pigment_keys", table_name="batch", postgresql_using="gin")
    op.drop_index("ix_batch_lot_ids", table_name="batch", postgresql_using="gin")
    op.drop_table("batch")
