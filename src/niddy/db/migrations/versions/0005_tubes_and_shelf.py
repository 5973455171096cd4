"""tubes and shelf."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0005"
down_revision = "0004"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.create_table(
        "shelf_item",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("request_id", sa.Uuid(), nullable=False),
        sa.Column("code", sa.String(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("masstone_srgb", sa.String(), nullable=False),
        sa.Column("colour_order", sa.Double(), nullable=False),
        sa.Column("batch_number", sa.Integer(), nullable=True),
        sa.Column("topped_by", sa.Integer(), nullable=True),
        sa.Column("container", sa.String(), nullable=False),
        sa.Column("usable_ml", sa.Double(), nullable=True),
        sa.Column("volume_ml", sa.Double(), nullable=False),
        sa.Column("density_g_per_ml", sa.Double(), nullable=True),
        sa.Column("gross_g", sa.Double(), nullable=True),
        sa.Column("tare_g", sa.Double(), nullable=True),
        sa.Column("place", sa.String(), nullable=False),
        sa.Column("cover", sa.String(), nullable=False),
        sa.Column("note", sa.String(), nullable=False),
        sa.Column("filled_on", sa.Date(), nullable=False),
        sa.Column("use_by", sa.Date(), nullable=True),
        sa.Column("status", sa.String(), nullable=False),
        sa.Column("why", sa.String(), nullable=False),
        sa.Column("unknown_hazard", sa.Boolean(), nullable=False),
        sa.Column("hazards", postgresql.ARRAY(sa.String()), nullable=False),
        sa.Column("next_inspection_on", sa.Date(), nullable=True),
        sa.Column("last_outcome", sa.String(), nullable=True),
        sa.ForeignKeyConstraint(["batch_number"], ["batch.number"], name=op.f("fk_shelf_item_batch_number_batch")),
        sa.ForeignKeyConstraint(["topped_by"], ["batch.number"], name=op.f("fk_shelf_item_topped_by_batch")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shelf_item")),
        sa.UniqueConstraint("code", name=op.f("uq_shelf_item_code")),
        sa.UniqueConstraint("request_id", name=op.f("uq_shelf_item_request_id")),
    )
    op.create_index("ix_shelf_item_batch_number", "shelf_item", ["batch_number"], unique=False)
    op.create_index("ix_shelf_item_colour_order", "shelf_item", ["colour_order"], unique=False)
    op.create_index(
        "ix_shelf_item_next_inspection_on",
        "shelf_item",
        ["next_inspection_on"],
        unique=False,
        postgresql_where=sa.text("status = 'kept'"),
    )
    op.create_index("ix_shelf_item_status_filled_on", "shelf_item", ["status", "filled_on"], unique=False)
    op.create_table(
        "shelf_event",
        sa.Column("id", sa.Uuid(), nullable=False),
        sa.Column("item_id", sa.Integer(), nullable=False),
        sa.Column("seq", sa.Integer(), nullable=False),
        sa.Column("kind", sa.String(), nullable=False),
        sa.Column("value", postgresql.JSONB(astext_type=sa.Text()), nullable=False),
        sa.Column("at", sa.DateTime(timezone=True), nullable=False),
        sa.Column("recorded_at", sa.DateTime(timezone=True), nullable=False),
        sa.ForeignKeyConstraint(["item_id"], ["shelf_item.id"], name=op.f("fk_shelf_event_item_id_shelf_item")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_shelf_event")),
        sa.UniqueConstraint("item_id", "seq", name="uq_shelf_event_seq"),
    )
    op.add_column("recipe", sa.Column("bleeds_since", sa.DateTime(timezone=True), nullable=True))
    op.add_column("tube_type", sa.Column("diameter_mm", sa.Double(), nullable=True))
    op.add_column("tube_type", sa.Column("length_mm", sa.Double(), nullable=True))
    op.add_column("tube_type", sa.Column("headspace_mm", sa.Double(), nullable=True))
    op.add_column("tube_type", sa.Column("tare_g", sa.Double(), nullable=True))
    op.add_column("tube_type", sa.Column("folds", sa.Integer(), nullable=True))


def downgrade() -> None:
    op.drop_column("tube_type", "folds")
    op.drop_column("tube_type", "tare_g")
    op.drop_column("tube_type", "headspace_mm")
    op.drop_column("tube_type", "length_mm")
    op.drop_column("tube_type", "diameter_mm")
    op.drop_column("recipe", "bleeds_since")
    op.drop_table("shelf_event")
    op.drop_index("ix_shelf_item_status_filled_on", table_name="shelf_item")
    op.drop_index(
        "ix_shelf_item_next_inspection_on", table_name="shelf_item", postgresql_where=sa.text("status = 'kept'")
    )
    op.drop_index("ix_shelf_item_colour_order", table_name="shelf_item")
    op.drop_index("ix_shelf_item_batch_number", table_name="shelf_item")
    op.drop_table("shelf_item")
