"""Labels: what stands on the label of a tube or jar, in the words of its own record."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy.orm import Session

from niddy.core.cautions import cautions_for
from niddy.core.plan import pigment_and_oil_only
from niddy.studio import batches, shelf
from niddy.studio.batches import BatchKept
from niddy.studio.shelf import ItemLine

_METALS = {"lead", "cadmium", "cobalt", "nickel", "manganese", "antimony", "arsenic", "mercury", "chromium-3",
           "vanadium", "selenium"}  # fmt: skip
_PICTOGRAMS = {"zinc": "environment", "copper": "environment", "solvent": "flame", "irritant": "exclamation"}


@dataclass(frozen=True, slots=True)
class Label:
    """The words of one label; `pictograms` are what the hazards would carry, if the maker confirmed them.

    `address` is what its QR code says: here the path of the batch, which the web floor makes whole.
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


def texts(session: Session, ids: list[int]) -> list[Label]:
    """The labels of some tubes and jars, in the order asked for. Raises Missing."""
    lines = shelf.lines_of(session, ids)
    kept = {number: batches.batch(session, number, 0) for number in {one.batch_number for one in lines} if number}
    return [_text(one, kept.get(one.batch_number or 0)) for one in lines]


def _text(item: ItemLine, kept: BatchKept | None) -> Label:
    volume = f"{item.volume_ml:.0f} ml"
    day = f"{item.filled_on:%d %b %Y}"
    if kept is None:
        return Label(
            item.name, "", "", "", item.code, f"found {day}", "", volume, "Unknown: treat as hazardous until matched.",
            ("exclamation",), f"/shelf/{item.id}",
        )  # fmt: skip
    plan, paste = kept.plan, kept.paste
    pigments = ", ".join(
        f"{w.pigment.name}{f' ({w.pigment.ci_name})' if w.pigment.ci_name else ''}"
        for w in plan.lines
        if w.extends_pct is None
    )
    extended = [
        w.pigment.name for w in plan.lines if w.extends_pct is not None and paste.pigments.get(w.pigment.source)
    ]
    stirred = [one.what.name.split(" gel,")[0] for one in paste.additives.values() if one.grams > 0]
    only = pigment_and_oil_only(plan.oil, stirred, bool(extended))
    drying = [word for word in ("driers", "solvent") if word in plan.oil.hazards]
    besides = "Pigment and oil only." if only else "With " + ", ".join([*stirred, *extended, *drying]).lower() + "."
    number = f"batch {item.batch_number}" + (f" + {item.topped_by}" if item.topped_by else "")
    cautions = cautions_for(list(batches.hazards_of(kept)))
    words = "; ".join(caution.title for caution in cautions)
    keys = {caution.key for caution in cautions}
    marks = ["health", "exclamation"] if keys & _METALS else []
    marks += [_PICTOGRAMS[key] for key in sorted(keys) if key in _PICTOGRAMS and _PICTOGRAMS[key] not in marks]
    return Label(
        item.name, pigments, plan.oil.name, besides, f"{item.code}, {number}", day,
        f"Use by {item.use_by:%d %b %Y}, keep cold" if item.use_by else "", volume,
        (words + ". Follow the safety data sheet.") if words else "", tuple(marks), f"/batches/{item.batch_number}",
    )  # fmt: skip
