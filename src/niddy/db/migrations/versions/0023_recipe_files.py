"""recipes: the file one came as, so that what is not understood goes on with it."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects.postgresql import JSONB

revision = "0023"
down_revision = "0022"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("recipe", sa.Column("came_as", JSONB(), nullable=True))


def downgrade() -> None:
    op.drop_column("recipe", "came_as")
