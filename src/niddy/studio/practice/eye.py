"""A maker's eye, as practice found it; and whether the real slab may use it."""

from __future__ import annotations

import math
from dataclasses import dataclass

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.errors import Refused
from niddy.core.eye import BIAS_SD, EYE_SD, LEAST_JUDGEMENTS, Eye, Judgement, eye_of, middle_of
from niddy.core.slab import Status
from niddy.core.wetting import Body, body_at
from niddy.db.practice import PracticeTry
from niddy.studio import workshop
from niddy.studio.documents import Document
from niddy.studio.words import Words
from niddy.studio.workshop import PractisedEye


class EyeAsked(Document):
    """Whose eye the real slab uses; nobody's where `use` is False."""

    maker: Words
    use: bool


@dataclass(frozen=True, slots=True)
class EyeSeen:
    """A maker's eye: bias and spread in reduced PVC from so many judgements, in words, and whether the slab uses it.

    `bias_sd` is how surely the bias is known. `may_use` from eight judgements on.
    """

    maker: str
    judgements: int
    bias: float
    sd: float
    bias_sd: float
    says: str
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
    found = judgements_of(session, maker)
    eye, count, used = eye_of(found), len(found), workshop.practised_eye(session)
    return EyeSeen(
        maker, count, eye.bias, eye.sd, bias_sd(eye, count), _says(eye, count), count >= LEAST_JUDGEMENTS,
        max(0, LEAST_JUDGEMENTS - count), used is not None and used.maker == maker,
    )  # fmt: skip


@dataclass(frozen=True, slots=True)
class Named:
    """One paste that was named: the reduced PVC it looked like, the body said, and how far off that is."""

    true_reduced_pvc: float
    said: Body
    off: float


@dataclass(frozen=True, slots=True)
class BodyNamed:
    """How often a body was named so, and how often as a stiffer or a softer one."""

    body: Body
    right: int
    stiffer: int
    softer: int


@dataclass(frozen=True, slots=True)
class EyePage:
    """A maker's eye with every paste it named, and body by body."""

    eye: EyeSeen
    named: tuple[Named, ...]
    bodies: tuple[BodyNamed, ...]


def eye_page(session: Session, maker: str) -> EyePage:
    """A maker's eye with every paste it named."""
    found = judgements_of(session, maker.strip())
    named = tuple(
        Named(one.true_reduced_pvc, one.said_body, middle_of(one.said_body) - one.true_reduced_pvc) for one in found
    )
    order = list(Body)
    bodies = []
    for body in order:
        places = [order.index(one.said_body) - order.index(body) for one in found
                  if body_at(one.true_reduced_pvc) is body]  # fmt: skip
        bodies.append(
            BodyNamed(body, places.count(0), sum(place < 0 for place in places), sum(place > 0 for place in places))
        )
    return EyePage(eye_seen(session, maker.strip()), named, tuple(bodies))


def bias_sd(eye: Eye, count: int) -> float:
    """How surely a bias is known after so many judgements, in reduced PVC."""
    return math.sqrt(1 / (1 / BIAS_SD**2 + count / max(eye.sd, EYE_SD / 2) ** 2))


SMALL = 0.01
"""A bias below this is none that anybody could see."""


def _says(eye: Eye, count: int) -> str:
    if not count:
        return "Nothing is known of this eye yet."
    if abs(eye.bias) < SMALL:
        return "It leans neither way."
    side = "stiffer" if eye.bias > 0 else "softer"
    return f"It calls a paste {side} than it is, by {abs(eye.bias):.2f} of reduced PVC."


def use_eye(session: Session, asked: EyeAsked) -> EyeSeen:
    """Let the real slab use a maker's eye, or nobody's. Raises Refused below eight judgements."""
    seen = eye_seen(session, asked.maker)
    if asked.use and not seen.may_use:
        raise Refused("use", f"{seen.judgements} judgements so far", f"{LEAST_JUDGEMENTS} or more")
    if asked.use:
        workshop.use_eye(session, PractisedEye(seen.maker, seen.bias, seen.bias_sd, seen.sd))
    elif seen.used:
        workshop.use_eye(session, None)
    return eye_seen(session, asked.maker)


def sharpen(session: Session, maker: str) -> None:
    """Let the slab know what was practised since, where it uses this maker's eye."""
    used = workshop.practised_eye(session)
    if used is not None and used.maker == maker:
        seen = eye_seen(session, maker)
        workshop.use_eye(session, PractisedEye(maker, seen.bias, seen.bias_sd, seen.sd))
