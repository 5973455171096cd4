"""Labels: what stands on the label of a tube or jar, in the words of its own record."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from sqlalchemy.orm import Session

from niddy.core.cautions import cautions_for, in_paint
from niddy.core.contents import OIL_OF_A_GEL, UNKNOWN_PARTS, Contents, Role, not_fully_known
from niddy.core.sources import lot_of
from niddy.studio import makers, materials, shelf, sludge, workshop
from niddy.studio.materials import CakeOf
from niddy.studio.shelf import Held, ItemKind, ItemLine

_METALS = {
    "lead",
    "cadmium",
    "cobalt",
    "nickel",
    "manganese",
    "antimony",
    "arsenic",
    "mercury",
    "chromium-3",
    "vanadium",
    "selenium",
}
_PICTOGRAMS = {"zinc": "environment", "copper": "environment", "solvent": "flame", "irritant": "exclamation"}


@dataclass(frozen=True, slots=True)
class Label:
    """The words of one label; `pictograms` are what the hazards would carry, if the maker confirmed them.

    `address` is what its QR code says: here the path of the batch, which the web floor makes whole. `colour` is the
    one that was read or seen, `studio` the name of whoever makes it, `mark` its own as PNG; a `dab` has a place on what
    is paint or powder.
    """

    name: str
    pigments: str
    oil: str
    besides: str
    batch: str
    made_on: str
    use_by: str
    volume: str
    hazards: str
    pictograms: tuple[str, ...]
    address: str
    colour: str = ""
    studio: str = ""
    mark: bytes | None = None
    dab: bool = True

    @property
    def lines(self) -> list[str]:
        """Its words, line by line, for whoever writes it by hand."""
        facts = ", ".join(part for part in (self.batch, self.made_on, self.volume) if part)
        all_of = (self.name, self.pigments, self.oil, self.besides, facts, self.use_by, self.hazards)
        return [line for line in all_of if line]


def texts(session: Session, ids: list[int]) -> list[Label]:
    """The labels of some tubes and jars, in the order asked for, by what is in them. Raises Missing."""
    found = shelf.held(session, ids)
    by: dict[int, str] = {}
    if workshop.settings(session).initials_on_labels:
        by = makers.made_by(session, [item.line.batch_number for item in found if item.line.batch_number])
    recycled = _recycled(session, found)
    studio, mark = workshop.settings(session).name, workshop.mark(session)
    made = [_text(item, by.get(item.line.batch_number or 0, ""), recycled) for item in found]
    return [
        replace(label, studio=studio, mark=mark, colour=item.line.masstone_srgb or "")
        for label, item in zip(made, found, strict=True)
    ]


def of_lot(session: Session, lot_id: int) -> Label:
    """The label of a powder, oil or wax in a jar of one's own: what it is, whence, what it may do. Raises Missing."""
    lot = materials.lot(session, lot_id)
    cautions = cautions_for([(lot.name, lot.hazards)])
    words = "; ".join(caution.title for caution in cautions)
    what = lot.ci_name if lot.ci_name and lot.ci_name != lot.name else ""
    besides = _recycled_words(lot.cake, lot.hazards) if lot.cake is not None else ""
    made = f"made in run {lot.made_in.run_number}" if lot.made_in is not None else f"{lot.received_on:%d %b %Y}"
    if lot.liquid_share:
        besides = f"{besides} Still wet: lid on, away from flame.".strip()
    elif lot.unit == "g" and lot.kind in ("pigment", "raw"):
        besides = f"{besides} Dry powder: mask on, wipe it up damp.".strip()
    return Label(
        lot.name,
        what,
        "",
        besides,
        f"lot {lot.code}",
        made,
        f"Use by {lot.use_by:%d %b %Y}" if lot.use_by else "",
        "",
        f"{words}. Follow the safety data sheet." if words else "",
        _marks({caution.key for caution in cautions}),
        f"/stock/{lot.id}",
        lot.masstone_srgb or "",
        workshop.settings(session).name,
        workshop.mark(session),
        dab=lot.kind == "pigment",
    )


def _recycled(session: Session, found: Sequence[Held]) -> dict[int, str]:
    """What is said of the cakes of sludge that are in some paints, by their lot."""
    sources = {content.source for held in found for content in held.contents if content.role is Role.PIGMENT}
    lots = [lot_id for lot_id in map(lot_of, sources) if lot_id is not None]
    cakes = [materials.lot(session, lot_id) for lot_id in materials.cakes_among(session, lots)] if lots else []
    return {lot.id: _recycled_words(lot.cake, lot.hazards) for lot in cakes}


NAMED = 3
"""So many of what a cake is made of are named on a label."""


def _recycled_words(cake: CakeOf | None, hazards: tuple[str, ...]) -> str:
    """What a label says of a cake of sludge: never that it is pigment and oil only."""
    if cake is None or UNKNOWN_PARTS in hazards or not cake.parts:
        return "Recycled; contents not fully known: treat as hazardous."
    names = [part.name.lower() for part in cake.parts[:NAMED]]
    more = len(cake.parts) - len(names)
    return f"Recycled; contents: {', '.join(names)}{f' and {more} more' if more > 0 else ''}."


def _marks(keys: set[str]) -> tuple[str, ...]:
    """The pictograms that some hazards would carry."""
    marks = ["health", "exclamation"] if keys & _METALS else []
    marks += [_PICTOGRAMS[key] for key in sorted(keys) if key in _PICTOGRAMS and _PICTOGRAMS[key] not in marks]
    return tuple(marks)


def of_can(session: Session, number: int) -> Label:
    """The label of a washing can: what is in it, what it may do, and the code that logs a washing. Raises Missing."""
    kept = sludge.can_kept(session, number)
    makeup = kept.can.makeup
    hazards = (*kept.solvent.hazards, *(makeup.hazards if makeup.weight > 0 else ()))
    titles = [caution.title for caution in cautions_for([(kept.name, in_paint(tuple(hazards)))])]
    keys = set(hazards)
    marks = ["flame"] if keys & {"flammable", "solvent"} else []
    marks += ["health", "exclamation"] if keys & _METALS else []
    since = f"in use since {kept.started_at:%b %Y}"
    return Label(
        kept.name,
        f"Brush washings in {kept.solvent.name.lower()}",
        "",
        "Lid on. Never into the drain.",
        f"can {kept.number}",
        since,
        "",
        "",
        f"{'; '.join(titles)}. Follow the safety data sheet." if titles else "",
        tuple(marks),
        f"/sludge/cans/{kept.number}",
        studio=workshop.settings(session).name,
        dab=False,
    )


def _text(held: Held, by: str, recycled: Mapping[int, str]) -> Label:
    item, contents = held.line, held.contents
    volume = f"{item.volume_ml:.0f} ml"
    day = f"{item.filled_on:%d %b %Y}"
    cautions = cautions_for([(item.name, in_paint(held.hazards))])
    words = "; ".join(caution.title for caution in cautions)
    if not contents:
        unknown = "Unknown: treat as hazardous until matched."
        if not item.unknown_hazard:
            unknown = "Follow the safety data sheet."
        return Label(
            item.name,
            "",
            "",
            f"Its own label says: {held.label_says}." if held.label_says else "",
            item.code,
            f"found {day}" if item.unknown_hazard else f"from {item.filled_on:%Y}",
            "",
            volume,
            f"{words}. {unknown}" if words else unknown,
            ("exclamation",) if item.unknown_hazard else _marks({caution.key for caution in cautions}),
            f"/shelf/{item.id}",
        )
    pigments = _named(contents, Role.PIGMENT)
    besides = [*_names(contents, Role.ADDITIVE), *_names(contents, Role.EXTENDER)]
    binders = [content for content in contents if content.role in (Role.OIL, Role.OLD_PAINT)]
    besides += [word for word in ("driers", "solvent") if any(word in binder.hazards for binder in binders)]
    says = "With " + ", ".join(dict.fromkeys(besides)).lower() + "." if besides else ""
    cakes = [recycled[lot_id] for lot_id in (lot_of(c.source) or 0 for c in contents) if lot_id in recycled]
    if not_fully_known(contents):
        says = f"{says} Recycled; contents not fully known: treat as hazardous.".strip()
    elif cakes:
        says = " ".join([says, *dict.fromkeys(cakes)]).strip()
    says = says or "Pigment and oil only."
    number = f"batch {item.batch_number}" + (f" + {item.topped_by}" if item.topped_by else "")
    address = f"/batches/{item.batch_number}" if item.batch_number else f"/shelf/{item.id}"
    if item.kind is ItemKind.STICK:
        waxes = ", ".join(_names(contents, Role.WAX)).lower()
        says = f"Paint stick, base of {waxes}." + (f" {says}" if besides else "")
        number, address = f"pot {item.pot_number}", f"/sticks/{item.pot_number}"
        if item.weight_g is not None:
            volume = f"{item.weight_g:.{0 if item.weight_g >= 100 else 1}f} g"
    keys = {caution.key for caution in cautions}
    return Label(
        item.name,
        pigments,
        ", ".join(_names(contents, Role.OIL)),
        says,
        f"{item.code}, {number}",
        f"{day}, {by}" if by else day,
        f"Use by {item.use_by:%d %b %Y}, keep cold" if item.use_by else "",
        volume,
        _hazards(item, words, keys),
        _marks(keys),
        address,
    )


def _hazards(item: ItemLine, words: str, keys: set[str]) -> str:
    """What a label says of what can hurt; a stick of metals goes onto the hands."""
    if not words:
        return ""
    hands = " Gloves or a sleeve; not for children." if item.kind is ItemKind.STICK and keys & _METALS else ""
    return f"{words}.{hands} Follow the safety data sheet."


def _names(contents: Contents, role: Role) -> list[str]:
    """The names of all materials of a role, each once, the most of it first; what came with a gel is its oil."""
    found = sorted((content for content in contents if content.role is role), key=lambda content: -content.grams)
    names = list(dict.fromkeys(content.name for content in found))
    return [name for name in names if name != OIL_OF_A_GEL] or names


def _named(contents: Contents, role: Role) -> str:
    index = {content.name: content.ci_name for content in contents if content.role is role}
    return ", ".join(f"{name} ({index[name]})" if index[name] else name for name in _names(contents, role))
