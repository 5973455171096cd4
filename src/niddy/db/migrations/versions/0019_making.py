"""making: processes and their versions."""

import sqlalchemy as sa
from alembic import op
from sqlalchemy.dialects import postgresql

revision = "0019"
down_revision = "0018"
branch_labels = None
depends_on = None

WHEN = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.create_table(
        "making_process",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("note", sa.String(), server_default="", nullable=False),
        sa.Column("added_at", WHEN, nullable=False),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_making_process")),
        sa.UniqueConstraint("name", name=op.f("uq_making_process_name")),
    )
    op.create_table(
        "making_process_version",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("process_id", sa.Integer(), nullable=False),
        sa.Column("version", sa.Integer(), nullable=False),
        sa.Column("said", postgresql.JSONB(), nullable=False),
        sa.Column("why", sa.String(), server_default="", nullable=False),
        sa.Column("made_at", WHEN, nullable=False),
        sa.CheckConstraint("version > 0", name=op.f("ck_making_process_version_version")),
        sa.ForeignKeyConstraint(
            ["process_id"], ["making_process.id"], name=op.f("fk_making_process_version_process_id_making_process")
        ),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_making_process_version")),
        sa.UniqueConstraint("process_id", "version", name="uq_making_process_version_version"),
    )


def downgrade() -> None:
    op.drop_table("making_process_version")
    op.drop_table("making_process")
