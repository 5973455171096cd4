"""A maker's eye, as practice found it; and whether the real slab may use it."""

from __future__ import annotations

from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core import eye as core
from niddy.core.documents import Document
from niddy.core.errors import Refused
from niddy.core.eye import LEAST_JUDGEMENTS, Eye, Judgement, Stretch, Tally
from niddy.core.figure import Figure
from niddy.core.slab import Status
from niddy.core.wetting import Body
from niddy.core.words import Words
from niddy.db.practice import PracticeTry
from niddy.studio import workshop
from niddy.studio.workshop import PractisedEye


class EyeAsked(Document):
    """Whose eye the real slab uses; nobody's where `use` is False."""

    maker: Words
    use: bool


@dataclass(frozen=True, slots=True)
class EyeSeen:
    """A maker's eye from so many judgements, in words and figures, and whether the slab uses it.

    `bias` and `sd` are reduced PVC, for a drawing on `scale`; `tube_pvc` is the middle of tube body there.
    `may_use` from eight judgements on.
    """

    maker: str
    judgements: int
    bias: float
    sd: float
    leans: Figure
    scatters: Figure
    says: str
    scale: tuple[Stretch, ...]
    tube_pvc: float
    may_use: bool
    needs: int
    used: bool


def judgements_of(session: Session, maker: str) -> list[Judgement]:
    """Every judgement of a maker that was not thrown away, oldest first."""
    rows = session.execute(
        select(PracticeTry.judgements)
        .where(PracticeTry.maker == maker, PracticeTry.status != Status.ABANDONED)
        .order_by(PracticeTry.started_at)
    )
    return [Judgement(true, Body(said)) for (kept,) in rows for true, said in kept]


def eye_seen(session: Session, maker: str) -> EyeSeen:
    """A maker's eye as practice found it."""
    eye, count = _eye(session, maker)
    used = workshop.practised_eye(session)
    return EyeSeen(
        maker,
        count,
        eye.bias,
        eye.sd,
        core.leans(eye, count),
        core.scatters(eye, count),
        core.leans_said(eye, count),
        core.SCALE,
        core.middle_of(Body.TUBE),
        count >= LEAST_JUDGEMENTS,
        max(0, LEAST_JUDGEMENTS - count),
        used is not None and used.maker == maker,
    )


def _eye(session: Session, maker: str) -> tuple[Eye, int]:
    found = judgements_of(session, maker)
    return core.eye_of(found), len(found)


@dataclass(frozen=True, slots=True)
class Named:
    """One paste that was named: the reduced PVC it looked like, the body said, and how far off that is."""

    true_reduced_pvc: float
    said: Body
    off: float


@dataclass(frozen=True, slots=True)
class EyePage:
    """A maker's eye with every paste it named, and body by body."""

    eye: EyeSeen
    named: tuple[Named, ...]
    bodies: tuple[Tally, ...]


def eye_page(session: Session, maker: str) -> EyePage:
    """A maker's eye with every paste it named."""
    found = judgements_of(session, maker.strip())
    named = tuple(
        Named(one.true_reduced_pvc, one.said_body, core.middle_of(one.said_body) - one.true_reduced_pvc)
        for one in found
    )
    return EyePage(eye_seen(session, maker.strip()), named, core.tallies(found))


def _practised(session: Session, maker: str) -> PractisedEye:
    eye, count = _eye(session, maker)
    return PractisedEye(maker, eye.bias, core.bias_sd(eye, count), eye.sd)


def use_eye(session: Session, asked: EyeAsked) -> EyeSeen:
    """Let the real slab use a maker's eye, or nobody's. Raises Refused below eight judgements."""
    seen = eye_seen(session, asked.maker)
    if asked.use and not seen.may_use:
        raise Refused("use", f"{seen.judgements} judgements so far", f"{LEAST_JUDGEMENTS} or more")
    if asked.use:
        workshop.use_eye(session, _practised(session, seen.maker))
    elif seen.used:
        workshop.use_eye(session, None)
    return eye_seen(session, asked.maker)


def sharpen(session: Session, maker: str) -> None:
    """Let the slab know what was practised since, where it uses this maker's eye."""
    used = workshop.practised_eye(session)
    if used is not None and used.maker == maker:
        workshop.use_eye(session, _practised(session, maker))
