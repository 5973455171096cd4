"""Finding a mixture for a wanted colour among the paints the studio has."""

from __future__ import annotations

from collections.abc import Sequence
from dataclasses import dataclass
from typing import Annotated, Literal

import numpy as np
from pydantic import Field
from sqlalchemy.orm import Session

from niddy.core.amounts import Grams
from niddy.core.cautions import beware
from niddy.core.colorimetry import Lab, lab_of_srgb, seen_off, srgb_of
from niddy.core.documents import Document, RowId
from niddy.core.errors import Refused
from niddy.core.estimate import Basis
from niddy.core.mixing import bench as core
from niddy.core.mixing.chart import PartsBy
from niddy.core.mixing.constants import Paint
from niddy.core.mixing.finding import UNSEEN
from niddy.core.mixing.finding import find as nearest
from niddy.core.mixing.paints import GUESS_OFF, KnownBy
from niddy.core.mixing.seeing import srgb_of as srgbs_of
from niddy.studio import shelf
from niddy.studio.checks import ReadColour
from niddy.studio.mixing.inside import Inside, MixingBeware, beware_of, inside
from niddy.studio.mixing.kept import PaintKept, basis_of, bench, by_name, numbers, palette_of, parts_by, several
from niddy.studio.mixing.lists import is_here

COUNT = 5
MOST_PAINTS = 80


class FindAsked(Document):
    """A wanted colour, and which paints may go into it.

    One of: `colour` (a reading, sRGB or a photograph's Lab), `item_id` (a tube or jar of the shelf), `paint_id`, or
    `grey_of` two paints. `paint_ids` are the only ones to choose from where given; else those that are here, and
    `guesses` says whether those nobody read are among them. Parts are `by` weight or volume; as this studio measures
    where that is not said.
    """

    colour: ReadColour | None = None
    item_id: RowId | None = None
    paint_id: RowId | None = None
    grey_of: Annotated[list[RowId], Field(min_length=2, max_length=2)] | None = None
    paint_ids: Annotated[list[RowId], Field(min_length=1, max_length=MOST_PAINTS)] | None = None
    without_ids: Annotated[list[RowId], Field(max_length=MOST_PAINTS)] = Field(default_factory=list)
    most: Literal[1, 2, 3] = 3
    white: Annotated[bool, Field(strict=True)] = True
    guesses: Annotated[bool, Field(strict=True)] = False
    by: PartsBy | None = None
    total_g: Grams = 40.0


@dataclass(frozen=True, slots=True)
class MixPartFound:
    """A paint's part of a mixture: whole parts, share by mass, grams and ml, what more of it does and holds."""

    paint_id: int
    name: str
    srgb: str
    how: KnownBy
    white: bool
    parts: int
    share: float
    grams: float
    ml: float
    density_known: bool
    does: str
    beware: tuple[str, ...]


@dataclass(frozen=True, slots=True)
class MixtureFound:
    """A mixture: its parts, what it looks like, how far that is from what was wanted, and how far it may really be.

    `off` is how far the mixture itself may be off what is predicted, nine times in ten; `says` in words how near.
    """

    parts: tuple[MixPartFound, ...]
    lab: Lab
    srgb: str
    de00: float
    off: float
    basis: Basis
    says: str


@dataclass(frozen=True, slots=True)
class MixturesFound:
    """What was wanted and what was found for it, the nearest first; `left_out` are paints here that nobody read."""

    wanted_srgb: str
    wanted_lab: Lab | None
    wanted_name: str
    wanted_off: float
    chosen_from: int
    left_out: int
    by: PartsBy
    mixtures: tuple[MixtureFound, ...]
    beware: MixingBeware


def find(session: Session, asked: FindAsked) -> MixturesFound:
    """The mixtures nearest to what is wanted. Raises Missing, Refused."""
    given = [asked.colour, asked.item_id, asked.paint_id, asked.grey_of]
    if sum(one is not None for one in given) != 1:
        raise Refused("colour", "one wanted colour is needed", "a reading, a tube or jar, a paint, or two for a grey")
    by = bench(session)
    every = several(session)
    if asked.grey_of is not None:
        return _grey(session, asked, every)
    wanted, name, off, itself = _wanted(session, asked, every)
    paints, left_out = _chosen(session, asked, every, itself)
    white = every.get(by.white_id) if asked.white and by.white_id is not None else None
    if white is not None and white.known.masstone is None:
        white = None
    pool = [one for one in paints if one.id != by.white_id or (asked.paint_ids is not None and white is None)]
    if not pool:
        raise Refused("paint_ids", "there is no paint to choose from", "a paint that is read, or also those never read")
    palette = palette_of(pool, by, white)
    strong = np.exp(palette.strength)[:, None]
    of = [Paint(tuple(k), tuple(s)) for k, s in zip(palette.k * strong, palette.s * strong, strict=True)]
    target = np.array([wanted.L, wanted.a, wanted.b])
    found = nearest(
        (wanted.L, wanted.a, wanted.b),
        of,
        palette.viewer,
        most=asked.most,
        always=len(pool) if white is not None else None,
        surface=palette.surface,
        count=COUNT,
    )
    members = [*pool, *([white] if white is not None else [])]
    of_each, measured = inside(session, members), asked.by or parts_by(session)
    density = [of_each[one.id].density_g_per_ml for one in members] if measured is PartsBy.VOLUME else None
    said = sorted(
        (core.said(palette, mixture.parts, target, density) for mixture in found),
        key=lambda one: (
            one.de00 // UNSEEN,
            sum(part.parts for part in one.parts) > core.FEW_PARTS,
            len(one.parts),
            one.de00,
        ),
    )
    return MixturesFound(
        srgb_of(wanted),
        wanted,
        name,
        off,
        len(pool),
        left_out,
        measured,
        tuple(_found(session, one, members, asked.total_g, of_each) for one in said),
        _beware(said, members, of_each),
    )


def _beware(said: Sequence[core.Said], members: list[PaintKept], of: dict[int, Inside]) -> MixingBeware:
    places = {part.place for one in said for part in one.parts}
    return beware_of([members[place] for place in sorted(places)], of)


def _grey(session: Session, asked: FindAsked, every: dict[int, PaintKept]) -> MixturesFound:
    """The most neutral mixture of two paints."""
    pair = asked.grey_of or []
    for n, paint_id in enumerate(pair):
        if paint_id not in every:
            raise Refused(f"grey_of.{n}", "no such paint", "a paint of this room")
    if pair[0] == pair[1]:
        raise Refused("grey_of.1", "the same paint", "another one")
    members = [every[paint_id] for paint_id in pair]
    palette = palette_of(members, bench(session), None)
    shares = core.grey_of(palette, 0, 1)
    weights = np.array([[share for _, share in shares]])
    lightness = float(palette.lab(weights)[0, 0])
    wanted = Lab(max(0.0, min(100.0, lightness)), 0.0, 0.0)
    of, by = inside(session, members), asked.by or parts_by(session)
    density = [of[one.id].density_g_per_ml for one in members] if by is PartsBy.VOLUME else None
    said = core.said(palette, shares, np.array([lightness, 0.0, 0.0]), density)
    return MixturesFound(
        srgb_of(wanted),
        wanted,
        "a grey of the two",
        0.0,
        2,
        0,
        by,
        (_found(session, said, members, asked.total_g, of),),
        _beware([said], members, of),
    )


def _found(
    session: Session, said: core.Said, members: list[PaintKept], total_g: float, of: dict[int, Inside]
) -> MixtureFound:
    by = bench(session)
    parts = tuple(
        MixPartFound(
            members[part.place].id,
            members[part.place].row.name,
            _srgb(members[part.place]),
            numbers(members[part.place], by).how,
            members[part.place].id == by.white_id,
            part.parts,
            part.share,
            part.share * total_g,
            part.share * total_g / of[members[part.place].id].density_g_per_ml,
            of[members[part.place].id].density_known,
            part.does,
            beware(of[members[part.place].id].hazards),
        )
        for part in said.parts
    )
    return MixtureFound(
        parts,
        Lab(*said.lab),
        srgbs_of(np.array([said.lab]))[0],
        said.de00,
        said.off,
        basis_of([members[part.place] for part in said.parts], by),
        seen_off(said.de00, said.off),
    )


def _srgb(kept: PaintKept) -> str:
    masstone = kept.known.masstone
    return srgb_of(masstone.lab) if masstone is not None else kept.row.swatch_srgb


def _wanted(session: Session, asked: FindAsked, every: dict[int, PaintKept]) -> tuple[Lab, str, float, int | None]:
    """What is wanted: its colour, its name, how far off it may be, and the paint it is itself, if any."""
    if asked.colour is not None:
        try:
            reading = asked.colour.reading()
        except Refused as refused:
            raise refused.under("colour") from None
        return reading.lab, "", reading.off, None
    if asked.item_id is not None:
        line = shelf.lines_of(session, [asked.item_id])[0]
        name = f"{line.name}, {line.code}"
        mine = next(
            (
                one
                for one in every.values()
                if one.row.item_id == line.id
                or (line.batch_number is not None and one.row.batch_number == line.batch_number)
            ),
            None,
        )
        if mine is not None and mine.known.masstone is not None:
            return mine.known.masstone.lab, name, mine.known.masstone.off, mine.id
        return lab_of_srgb(line.masstone_srgb), name, GUESS_OFF, mine.id if mine is not None else None
    assert asked.paint_id is not None
    if asked.paint_id not in every:
        raise Refused("paint_id", "no such paint", "a paint of this room")
    kept = every[asked.paint_id]
    masstone = kept.known.masstone
    if masstone is None:
        return lab_of_srgb(kept.row.swatch_srgb), kept.row.name, GUESS_OFF, kept.id
    return masstone.lab, kept.row.name, masstone.off, kept.id


def _chosen(
    session: Session, asked: FindAsked, every: dict[int, PaintKept], itself: int | None
) -> tuple[list[PaintKept], int]:
    """The paints to choose from, and how many are here that nobody read."""
    if asked.paint_ids is not None:
        for n, paint_id in enumerate(asked.paint_ids):
            if paint_id not in every:
                raise Refused(f"paint_ids.{n}", "no such paint", "a paint of this room")
        return [every[paint_id] for paint_id in dict.fromkeys(asked.paint_ids)], 0
    here = shelf.here(session)
    out = {*asked.without_ids, itself}
    there = [one for one in every.values() if not one.row.retired and is_here(one.row, here) and one.id not in out]
    read = [one for one in there if one.known.masstone is not None]
    chosen = there if asked.guesses else read
    # More than can be searched: the newest.
    meant = sorted((lots[0] for lots in by_name(chosen)), key=lambda one: -one.id)[:MOST_PAINTS]
    return meant, len(there) - len(read)
