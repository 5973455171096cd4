"""what a record says of the maker's eye, how it was measured, and what lots of a pigment share."""

import sqlalchemy as sa
from alembic import op

revision = "0012"
down_revision = "0011"
branch_labels = None
depends_on = None

ZERO = (
    ("demand_record", "eye_k"),
    ("demand_record", "measuring_sd_ln"),
    ("pigment_demand", "eye_precision"),
    ("pigment_demand", "eye_weighted"),
    ("pigment_demand", "unseen_shared_sd_ln"),
    ("pigment_demand", "unseen_eye_covariance"),
    ("lot", "demand_shared_sd_ln"),
    ("lot", "demand_eye_covariance"),
)


def upgrade() -> None:
    for table, column in ZERO:
        op.add_column(table, sa.Column(column, sa.Double(), server_default="0", nullable=False))
    op.add_column("demand_record", sa.Column("confirmed", sa.Boolean(), server_default=sa.false(), nullable=False))
    # A rub-out counted in drops says less than its sd did: ln 1.30 / z90 beside the hand's own.
    op.execute("update demand_record set measuring_sd_ln = 0.1595 where kind = 'rubout' and sd_ln > 0.09")


def downgrade() -> None:
    op.drop_column("demand_record", "confirmed")
    for table, column in ZERO:
        op.drop_column(table, column)
