"""Body by intent."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core import additives as core
from niddy.core import intent
from niddy.core.documents import Document, Key, RowId
from niddy.core.errors import Refused
from niddy.core.intent import Brush, Cupboard, Intent, Keep, Route, Stand, Thread
from niddy.reference import library
from niddy.studio import materials
from niddy.studio.additives.teaching import known
from niddy.studio.materials import Asked


class IntentAsked(Document):
    """What is wanted, in drawn choices, for a pigment in an oil: lots of the shelf or entries of the library."""

    stand: Stand
    brush: Brush
    thread: Thread
    keep: Keep
    pigment_lot_id: RowId | None = None
    pigment_key: Key | None = None
    oil_lot_id: RowId | None = None
    oil_key: Key | None = None


def routes(session: Session, asked: IntentAsked) -> tuple[Route, ...]:
    """Three ways to the paint wanted, by school. Raises Refused, Missing."""
    if asked.pigment_lot_id is None and asked.pigment_key is None:
        raise Refused("pigment_key", "no pigment named", "pigment_lot_id of a tin or pigment_key of the library")
    if asked.oil_lot_id is None and asked.oil_key is None:
        raise Refused("oil_key", "no oil named", "oil_lot_id of a bottle or oil_key of the library")
    oil = Asked(asked.oil_lot_id, asked.oil_key)
    gathered = materials.gather(session, [Asked(asked.pigment_lot_id, asked.pigment_key)], oil)
    bottle, _ = materials.portions(session, [(oil, 1.0)], "oil")
    thick, _ = materials.portions(
        session, [(Asked(None, key), 1.0) for key in ("linseed-stand", "linseed-sun-thickened")], "oil"
    )
    extenders = materials.dosings(
        session,
        [(Asked(None, key), 1.0) for key, additive in library().additives.items() if core.extends_as(additive)],
        {},
    )
    cupboard = Cupboard(
        dict(library().additives),
        {dosing.additive.key: pigment for dosing, pigment in extenders.extenders},
        {portion.oil.key: portion for portion in thick},
    )
    wanted = Intent(asked.stand, asked.brush, asked.thread, asked.keep)
    return intent.routes(wanted, gathered.pigments[0], bottle[0], cupboard, known(session))
