"""shelf lists."""

import sqlalchemy as sa
from alembic import op

revision = "0006"
down_revision = "0005"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column(
        "shelf_item",
        sa.Column("here", sa.Boolean(), sa.Computed("status in ('kept', 'waiting')", persisted=True), nullable=False),
    )
    op.add_column(
        "shelf_item",
        sa.Column(
            "searched",
            sa.String(),
            sa.Computed("lower(name || ' ' || code || ' ' || place || ' ' || container)", persisted=True),
            nullable=False,
        ),
    )
    op.drop_index("ix_shelf_item_status_filled_on", table_name="shelf_item")
    op.drop_index("ix_shelf_item_colour_order", table_name="shelf_item")
    op.create_index(
        "ix_shelf_item_colour_order",
        "shelf_item",
        ["colour_order", "filled_on"],
        unique=False,
        postgresql_where=sa.text("here"),
    )
    op.drop_index(
        "ix_shelf_item_next_inspection_on", table_name="shelf_item", postgresql_where="((status)::text = 'kept'::text)"
    )
    op.create_index(
        "ix_shelf_item_next_inspection_on",
        "shelf_item",
        ["next_inspection_on", "filled_on"],
        unique=False,
        postgresql_where=sa.text("here"),
    )
    op.create_index(
        "ix_shelf_item_filled_on", "shelf_item", ["filled_on", "id"], unique=False, postgresql_where=sa.text("here")
    )
    op.create_index(
        "ix_shelf_item_name", "shelf_item", ["name", "filled_on"], unique=False, postgresql_where=sa.text("here")
    )
    op.create_index(
        "ix_shelf_item_place", "shelf_item", ["place", "filled_on"], unique=False, postgresql_where=sa.text("here")
    )


def downgrade() -> None:
    op.drop_index("ix_shelf_item_place", table_name="shelf_item", postgresql_where=sa.text("here"))
    op.drop_index("ix_shelf_item_name", table_name="shelf_item", postgresql_where=sa.text("here"))
    op.drop_index("ix_shelf_item_filled_on", table_name="shelf_item", postgresql_where=sa.text("here"))
    op.drop_index("ix_shelf_item_next_inspection_on", table_name="shelf_item", postgresql_where=sa.text("here"))
    op.create_index(
        "ix_shelf_item_next_inspection_on",
        "shelf_item",
        ["next_inspection_on"],
        unique=False,
        postgresql_where="((status)::text = 'kept'::text)",
    )
    op.drop_index("ix_shelf_item_colour_order", table_name="shelf_item", postgresql_where=sa.text("here"))
    op.create_index("ix_shelf_item_colour_order", "shelf_item", ["colour_order"], unique=False)
    op.create_index("ix_shelf_item_status_filled_on", "shelf_item", ["status", "filled_on"], unique=False)
    op.drop_column("shelf_item", "searched")
    op.drop_column("shelf_item", "here")
