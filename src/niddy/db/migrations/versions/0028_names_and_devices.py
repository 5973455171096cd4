"""one maker by every spelling nobody can tell apart; devices known; the password given again beside a PIN."""

import unicodedata

import sqlalchemy as sa
from alembic import op

revision = "0028"
down_revision = "0027"
branch_labels = None
depends_on = None

TIME = sa.DateTime(timezone=True)


def upgrade() -> None:
    op.add_column("maker", sa.Column("name_key", sa.String(), nullable=True))
    _fill_keys()
    op.alter_column("maker", "name_key", nullable=False)
    op.drop_index("uq_maker_name", "maker")
    op.create_index(
        "uq_maker_name_key", "maker", ["name_key"], unique=True, postgresql_where=sa.text("gone_at is null")
    )
    op.add_column("maker_session", sa.Column("proved_at", TIME, nullable=True))
    op.create_table(
        "maker_device",
        sa.Column("token_hash", sa.String(), nullable=False),
        sa.Column("maker_id", sa.Integer(), nullable=False),
        sa.Column("seen_at", TIME, nullable=False),
        sa.ForeignKeyConstraint(
            ["maker_id"], ["maker.id"], name=op.f("fk_maker_device_maker_id_maker"), ondelete="cascade"
        ),
        sa.PrimaryKeyConstraint("token_hash", "maker_id", name=op.f("pk_maker_device")),
    )


def _fill_keys() -> None:
    """Two who are here under names that look alike both stay: the later one signs in by a number behind the name."""
    connection = op.get_bind()
    taken: set[str] = set()
    makers = connection.execute(sa.text("select id, name, gone_at from maker order by id")).all()
    for maker_id, name, gone_at in makers:
        key = _key(name)
        if gone_at is None:
            if key in taken:
                name = f"{name} {maker_id}"
                key = _key(name)
            taken.add(key)
        connection.execute(
            sa.text("update maker set name_key = :key, name = :name where id = :id"),
            {"key": key, "name": name, "id": maker_id},
        )


_ALIKE = str.maketrans("αβεζηικμνορτυχϲϳавекмнорстухіјѕԁһԛԝӏıɑɡ", "abezhikmnoptyxcjabekmhopctyxijsdhqwliag")


_UNSEEN = frozenset("\u034f") | {chr(code) for code in range(0xFE00, 0xFE10)}


def _key(name: str) -> str:
    folded = unicodedata.normalize("NFKC", unicodedata.normalize("NFKC", name).casefold())
    seen = "".join(letter for letter in folded if unicodedata.category(letter) != "Cf" and letter not in _UNSEEN)
    return " ".join(seen.translate(_ALIKE).split())


def downgrade() -> None:
    op.drop_table("maker_device")
    op.drop_column("maker_session", "proved_at")
    op.drop_index("uq_maker_name_key", "maker")
    op.create_index(
        "uq_maker_name", "maker", [sa.text("lower(name)")], unique=True, postgresql_where=sa.text("gone_at is null")
    )
    op.drop_column("maker", "name_key")
