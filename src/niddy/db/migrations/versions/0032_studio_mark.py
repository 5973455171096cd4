"""The studio's own mark, a small picture that stands on its labels."""

import sqlalchemy as sa
from alembic import op

revision = "0032"
down_revision = "0031"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.add_column("studio_settings", sa.Column("mark_png", sa.String(), nullable=True))


def downgrade() -> None:
    op.drop_column("studio_settings", "mark_png")
