"""hazards of the library known since: on every tube and jar that holds such a material."""

import json

import sqlalchemy as sa
from alembic import op

revision = "0011"
down_revision = "0010"
branch_labels = None
depends_on = None

KNOWN_SINCE = {
    "ultramarine-blue": "acid-sulphide",
    "prussian-blue": "acid-heat-cyanide",
    "smalt": "arsenic",
    "clove-oil": "sensitiser",
    "zirconium-drier": "reproductive",
    "cobalt-drier": "reproductive",
}


def upgrade() -> None:
    connection = op.get_bind()
    of_lot: dict[int, str] = dict(
        connection.execute(sa.text("select id, material_key from lot where hazards is null")).all()
    )
    of_batch: dict[int, list[str]] = dict(connection.execute(sa.text("select number, pigment_keys from batch")).all())
    items = connection.execute(sa.text("select id, hazards, contents, batch_number, topped_by from shelf_item")).all()
    for item in items:
        added = {
            KNOWN_SINCE[key]
            for number in (item.batch_number, item.topped_by)
            for key in of_batch.get(number, ())
            if key in KNOWN_SINCE
        }
        contents = []
        for one in item.contents:
            kind, _, name = one["source"].partition("-")
            key = of_lot.get(int(name)) if kind == "lot" and name.isdecimal() else name if kind == "library" else None
            more = KNOWN_SINCE.get(key) if key is not None else None
            hazards = list(one.get("hazards", []))
            if more is not None:
                added.add(more)
                hazards += [more] if more not in hazards else []
            contents.append({**one, "hazards": hazards})
        if added - set(item.hazards):
            connection.execute(
                sa.text("update shelf_item set hazards = :hazards, contents = cast(:contents as jsonb) where id = :id"),
                {"hazards": sorted({*item.hazards, *added}), "contents": json.dumps(contents), "id": item.id},
            )


def downgrade() -> None:
    """What is known of a danger is not forgotten again."""
