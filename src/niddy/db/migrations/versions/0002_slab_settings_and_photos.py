"""slab settings and photos."""

import sqlalchemy as sa
from alembic import op

revision = "0002"
down_revision = "0001"
branch_labels = None
depends_on = None


def upgrade() -> None:
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
    op.create_index(op.f("ix_batch_photo_batch_number"), "batch_photo", ["batch_number"], unique=False)
    op.create_index(
        "ix_batch_event_strikes",
        "batch_event",
        [sa.text("(payload ->> 'strikes')")],
        unique=False,
        postgresql_where=sa.text("kind = 'strike'"),
    )
    op.add_column("studio_settings", sa.Column("scrape_interval_min", sa.Double(), server_default="3", nullable=False))
    op.add_column("studio_settings", sa.Column("scrape_sound", sa.Boolean(), server_default="true", nullable=False))
    op.add_column("studio_settings", sa.Column("balance_port", sa.String(), server_default="", nullable=False))
    op.add_column("studio_settings", sa.Column("balance_baud", sa.Integer(), server_default="9600", nullable=False))
    op.add_column("studio_settings", sa.Column("balance_pattern", sa.String(), server_default="", nullable=False))
    op.add_column("studio_settings", sa.Column("balance_unit", sa.String(), server_default="g", nullable=False))
    op.add_column("studio_settings", sa.Column("balance_tare", sa.String(), server_default="tare", nullable=False))


def downgrade() -> None:
    op.drop_index("ix_batch_event_strikes", table_name="batch_event")
    op.drop_column("studio_settings", "balance_tare")
    op.drop_column("studio_settings", "balance_unit")
    op.drop_column("studio_settings", "balance_pattern")
    op.drop_column("studio_settings", "balance_baud")
    op.drop_column("studio_settings", "balance_port")
    op.drop_column("studio_settings", "scrape_sound")
    op.drop_column("studio_settings", "scrape_interval_min")
    op.drop_index(op.f("ix_batch_photo_batch_number"), table_name="batch_photo")
    op.drop_table("batch_photo")
