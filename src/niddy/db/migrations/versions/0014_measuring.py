"""how a studio measures, and with what it works the paste."""

import sqlalchemy as sa
from alembic import op

revision = "0014"
down_revision = "0013"
branch_labels = None
depends_on = None

COLUMNS = (
    ("measuring", "scale", "measuring in ('scale', 'spoons', 'eye')"),
    ("small", "drops", "small in ('drops', 'ml')"),
    ("tool", "muller", "tool in ('muller', 'knife', 'jar', 'glass')"),
)


def upgrade() -> None:
    for name, default, check in COLUMNS:
        op.add_column("studio_settings", sa.Column(name, sa.String(), server_default=default, nullable=False))
        op.create_check_constraint(op.f(f"ck_studio_settings_{name}"), "studio_settings", check)


def downgrade() -> None:
    for name, _, _ in COLUMNS:
        op.drop_column("studio_settings", name)
