"""bases and processes: the file one came as, so that what is not understood goes on with it."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0025"
down_revision = "0024"
branch_labels = None
depends_on = None

TABLES = ("stick_base", "making_process")


def upgrade() -> None:
    for table in TABLES:
        op.add_column(table, sa.Column("came_as", JSONB(), nullable=True))


def downgrade() -> None:
    for table in TABLES:
        op.drop_column(table, "came_as")
