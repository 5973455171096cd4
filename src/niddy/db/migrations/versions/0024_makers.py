"""makers: who may, where they are signed in, and who did what."""

import sqlalchemy as sa
from alembic import op

revision = "0024"
down_revision = "0023"
branch_labels = None
depends_on = None

TIME = sa.DateTime(timezone=True)
NOBODY = "(nullif(current_setting('niddy.maker', true), ''))::integer"


def _of_maker(name: str) -> sa.ForeignKeyConstraint:
    return sa.ForeignKeyConstraint(["maker_id"], ["maker.id"], name=op.f(name), ondelete="cascade")


def upgrade() -> None:
    op.create_table(
        "maker",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("name", sa.String(), nullable=False),
        sa.Column("initials", sa.String(), nullable=False),
        sa.Column("role", sa.String(), nullable=False),
        sa.Column("added_at", TIME, nullable=False),
        sa.Column("gone_at", TIME, nullable=True),
        sa.CheckConstraint("role in ('owner', 'maker', 'looker')", name=op.f("ck_maker_role")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_maker")),
    )
    op.create_index(
        "uq_maker_name", "maker", [sa.text("lower(name)")], unique=True, postgresql_where=sa.text("gone_at is null")
    )
    op.create_table(
        "maker_credential",
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("password_hash", sa.String(), nullable=False),
        sa.Column("pin_hash", sa.String(), nullable=True),
        sa.Column("pin_wrong", sa.Integer(), server_default="0", nullable=False),
        sa.CheckConstraint("pin_wrong >= 0", name=op.f("ck_maker_credential_pin_wrong")),
        _of_maker("fk_maker_credential_maker_id_maker"),
        sa.PrimaryKeyConstraint("maker_id", name=op.f("pk_maker_credential")),
    )
    op.create_table(
        "maker_session",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("token_hash", sa.String(), nullable=False),
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("by", sa.String(), nullable=False),
        sa.Column("device", sa.String(), nullable=False),
        sa.Column("shared", sa.Boolean(), nullable=False),
        sa.Column("began_at", TIME, nullable=False),
        sa.Column("seen_at", TIME, nullable=False),
        sa.Column("ended_at", TIME, nullable=True),
        sa.CheckConstraint("by in ('password', 'phone', 'pin')", name=op.f("ck_maker_session_by")),
        _of_maker("fk_maker_session_maker_id_maker"),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_maker_session")),
        sa.UniqueConstraint("token_hash", name=op.f("uq_maker_session_token_hash")),
    )
    op.create_index(op.f("ix_maker_session_maker_id"), "maker_session", ["maker_id"])
    op.create_table(
        "maker_pairing",
        sa.Column("token_hash", sa.String(), nullable=False),
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("made_at", TIME, nullable=False),
        sa.Column("used_at", TIME, nullable=True),
        _of_maker("fk_maker_pairing_maker_id_maker"),
        sa.PrimaryKeyConstraint("token_hash", name=op.f("pk_maker_pairing")),
    )
    op.create_index(op.f("ix_maker_pairing_maker_id"), "maker_pairing", ["maker_id"])
    op.create_table(
        "maker_change",
        sa.Column("id", sa.Integer(), nullable=False),
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("at", TIME, nullable=False),
        sa.Column("what", sa.String(), nullable=False),
        sa.Column("address", sa.String(), nullable=False),
        sa.ForeignKeyConstraint(["maker_id"], ["maker.id"], name=op.f("fk_maker_change_maker_id_maker")),
        sa.PrimaryKeyConstraint("id", name=op.f("pk_maker_change")),
    )
    op.create_index("ix_maker_change_at", "maker_change", ["at"])
    op.create_index(op.f("ix_maker_change_maker_id"), "maker_change", ["maker_id"])
    for table in ("job", "act"):
        op.add_column(table, sa.Column("maker_id", sa.Integer(), nullable=True))
        op.alter_column(table, "maker_id", server_default=sa.text(NOBODY))
        op.create_foreign_key(op.f(f"fk_{table}_maker_id_maker"), table, "maker", ["maker_id"], ["id"])
    op.add_column(
        "studio_settings", sa.Column("initials_on_labels", sa.Boolean(), server_default="false", nullable=False)
    )


def downgrade() -> None:
    op.drop_column("studio_settings", "initials_on_labels")
    for table in ("act", "job"):
        op.drop_column(table, "maker_id")
    for table in ("maker_change", "maker_pairing", "maker_session", "maker_credential", "maker"):
        op.drop_table(table)
