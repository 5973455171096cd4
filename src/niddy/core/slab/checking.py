"""Acts that cannot be: refused before they are logged."""

from __future__ import annotations

from niddy.core.errors import Refused
from niddy.core.log import Status
from niddy.core.measures import DROP_G, Family
from niddy.core.slab.acts import Event, Kind, SessionPhase, Stage
from niddy.core.slab.paste import Paste, dusty

READS_TO_G = 0.01
"""As finely as a bench reads: what is told is rounded to it, and taken so."""

AS_COUNTED = 0.05
"""A ceiling is no finer than drops and spoons are (assumed)."""


def check(paste: Paste, event: Event, target: Event | None) -> None:
    """Refuse an act that cannot be: on a batch that is over, taking out more than there is, striking nothing.

    `target` is the act of this batch that a strike names, or None where there is none.
    """
    reopening = event.kind is Kind.STRIKE and target is not None and target.kind in (Kind.FINISH, Kind.ABANDON)
    told_since = event.kind is Kind.CAME_OUT and paste.status is Status.FINISHED and paste.by_eye.reckoned_g > 0
    allowed = event.kind in (Kind.NOTE, Kind.PHOTO, Kind.CLEANED) or reopening or told_since
    if paste.status is not Status.OPEN and not allowed:
        raise Refused(
            "kind",
            f"this batch is {paste.status}",
            "a note, a picture, or undoing the finish to take the batch up again",
        )
    mulling = paste.mulling
    match event.kind:
        case Kind.STRIKE:
            if target is None:
                raise Refused("strikes", "no such act in this batch", "the id of an act of this batch")
            if target.kind is Kind.AMEND:
                raise Refused("strikes", "that put an amount right", "putting it right once more")
            if target.id in paste.struck:
                raise Refused("strikes", "that is undone already", "something that still counts")
        case Kind.AMEND:
            if target is None or target.kind not in (Kind.POWDER, Kind.OIL):
                raise Refused("amends", "no such amount in this batch", "the id of powder or oil that went in")
            if target.id in paste.struck:
                raise Refused("amends", "that was undone", "something that still counts")
        case Kind.SAMPLE:
            assert event.mass is not None
            _bottle_first(paste)
            if event.mass.median > paste.total_g:
                raise Refused("measure.amount", "more than is on the slab", f"up to {paste.total_g:.2f} g")
        case Kind.DRAW_OIL:
            assert event.mass is not None
            _bottle_first(paste)
            if event.mass.median > paste.oil_g:
                raise Refused("measure.amount", "more oil than is in the paste", f"up to {paste.oil_g:.2f} g")
        case Kind.CAME_OUT:
            if not paste.by_eye.taps:
                raise Refused("kind", "no oil went in by eye since", "a pour with its amount")
        case Kind.ADDITIVE:
            assert event.mass is not None and event.additive is not None
            if paste.pigment_g <= 0:
                raise Refused("kind", "there is no powder on the slab yet", "additives once the powder is in")
            what, there = event.additive, paste.additives.get(event.additive.source)
            if what.ceiling_per_g is not None:
                most = what.ceiling_per_g * paste.pigment_g - (there.grams / what.additive_fraction if there else 0.0)
                slack = READS_TO_G
                if event.family is not Family.SCALE:
                    # What is told in whole drops may be half a drop more.
                    slack = max(AS_COUNTED * most, (what.drop_g or DROP_G) / 2)
                if event.mass.median > most + slack:
                    raise Refused(
                        "measure.amount",
                        f"that is above the ceiling of {what.name.lower()}, {what.ceiling_says}",
                        f"up to {max(0.0, most):.2f} g more; above it only in a trial",
                    )
        case Kind.BOTTLE:
            assert event.bottle_g is not None
            known = paste.by_eye.bottle_g
            if paste.by_eye.taps and known is not None and event.bottle_g > known:
                raise Refused(
                    "bottle_g",
                    f"heavier than before ({known:g} g), though oil was poured",
                    f"up to {known:g} g; or undo the earlier weight if it was wrong",
                )
        case Kind.LOOK:
            if paste.pigment_g <= 0:
                raise Refused("stage", "there is no powder on the slab yet", "a look once the powder is in")
            if event.body is not None and event.stage is not Stage.EVEN_PASTE:
                stage = str(event.stage or "").replace("_", " ")
                raise Refused("body", f"a body does not go with {stage}", "the stage alone, or a body of even paste")
        case Kind.MULL:
            if mulling.running_since is not None:
                raise Refused("kind", "the muller runs already", "a pause first")
            if paste.pigment_g <= 0:
                raise Refused("kind", "there is no powder on the slab yet", "mulling once the paste is wet")
            if dusty(paste):
                raise Refused("kind", "still dusty", "mulling after a look at wet curds, with no dust left")
        case Kind.PAUSE:
            if mulling.running_since is None:
                raise Refused("kind", "the muller is not running", "a pause while it runs")
        case Kind.SCRAPE | Kind.FINENESS | Kind.LOAD_DONE:
            if mulling.fresh or mulling.load is None:
                raise Refused("kind", "no load is being mulled", "this once the muller was started")
            if event.kind is Kind.LOAD_DONE and mulling.load.ended_by is not None:
                raise Refused("kind", "that load is done already", "the next load, started")
        case Kind.GATHER:
            if mulling.fresh:
                raise Refused("kind", "there are no loads apart", "gathering after a load was mulled")
        case Kind.PHASE:
            if event.phase is SessionPhase.RIGHT:
                raise Refused(
                    "phase",
                    "only a look can say that",
                    ", ".join(p for p in SessionPhase if p is not SessionPhase.RIGHT),
                )
        case Kind.FINISH:
            if paste.pigment_g <= 0 or (paste.oil_g <= 0 and not paste.by_eye.taps):
                raise Refused("kind", "there is no paint on the slab yet", "finishing after powder and oil are in")
        case _:
            pass


def _bottle_first(paste: Paste) -> None:
    if paste.by_eye.taps:
        taps = f"{paste.by_eye.taps} {'pour' if paste.by_eye.taps == 1 else 'pours'}"
        raise Refused("kind", f"nobody knows yet how much oil {taps} by eye came to", "the bottle's weight, or a guess")
