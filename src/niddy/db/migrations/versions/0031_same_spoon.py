"""what a spoon and a drop were taken for with what was counted by them: weighed since, the count is read anew."""

import sqlalchemy as sa
from alembic import op

revision = "0031"
down_revision = "0030"
branch_labels = None
depends_on = None


def upgrade() -> None:
    op.drop_column("demand_record", "powder_by")
    op.add_column("demand_record", sa.Column("spooned_g_per_ml", sa.Float(), nullable=True))
    op.add_column("demand_record", sa.Column("drop_g", sa.Float(), nullable=True))


def downgrade() -> None:
    op.drop_column("demand_record", "drop_g")
    op.drop_column("demand_record", "spooned_g_per_ml")
    op.add_column("demand_record", sa.Column("powder_by", sa.String(), server_default="", nullable=False))
