"""what is known of a found jar: whether its colour was read, and that it is of no batch here."""

import sqlalchemy as sa
from alembic import op

revision = "0015"
down_revision = "0014"
branch_labels = None
depends_on = None


def upgrade() -> None:
    for name in ("colour_read", "of_no_batch"):
        op.add_column("shelf_item", sa.Column(name, sa.Boolean(), server_default=sa.false(), nullable=False))


def downgrade() -> None:
    op.drop_column("shelf_item", "of_no_batch")
    op.drop_column("shelf_item", "colour_read")
