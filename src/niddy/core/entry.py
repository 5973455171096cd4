"""What a maker is asked to make an act: read off the act's own declaration, drawn by one component of the front end."""

from __future__ import annotations

import types
from collections.abc import Iterable, Mapping
from dataclasses import dataclass, replace
from typing import Any, Union, get_args, get_origin

from pydantic.fields import FieldInfo

from niddy.core.acting import Act, AmountAsked
from niddy.core.asked import Asked, Drawn, Live, Option, Value
from niddy.core.measures import Unit, UnitKnown


@dataclass(frozen=True, slots=True)
class EntryField:
    """One field of an entry. `units` are the fields it may be sent as, or the units an amount may be in."""

    name: str
    label: str
    drawn: Drawn
    unit: str
    value: Value
    needed: bool
    accepted: str
    large: bool
    whole: bool
    longest: int
    live: Live | None
    choices: tuple[Option, ...]
    units: tuple[Option, ...]
    detail: str


@dataclass(frozen=True, slots=True)
class Answer:
    """A button beside or beneath the fields that makes an act of the same entry: another kind, or one more value."""

    label: str
    kind: str
    sends: Mapping[str, Value]
    only: tuple[str, ...] | None = None


@dataclass(frozen=True, slots=True)
class Entry:
    """What is asked to make one act. `beside` are other acts of the same fields; `answers` are to its question.

    The question is what is refused at the field `anyway`. Entries of one `group` are one with a choice of `name`.
    """

    key: str
    kind: str
    title: str
    doing: str
    fields: tuple[EntryField, ...]
    sends: Mapping[str, Value]
    says: str = ""
    caution: str = ""
    question: str = ""
    beside: tuple[Answer, ...] = ()
    answers: tuple[Answer, ...] = ()
    group: str = ""
    name: str = ""
    wanted_g: float | None = None


def entry(
    act: type[Act],
    title: str,
    doing: str = "Keep it",
    *,
    values: Mapping[str, Value] | None = None,
    choices: Mapping[str, tuple[Option, ...]] | None = None,
    labels: Mapping[str, str] | None = None,
    sends: Mapping[str, Value] | None = None,
    without: Iterable[str] = (),
    key: str = "",
    **more: Any,
) -> Entry:
    """The entry of an act: its asked fields in the order of its declaration.

    `values` are suggested, `choices` and `labels` stand for the declared ones, `sends` goes along unasked, `without`
    are fields that are not asked for here; `more` is of Entry.
    """
    kind = kind_of(act)
    left_out = {*without, *(sends or {})}
    fields = []
    for name, declared in act.model_fields.items():
        asked = next((one for one in declared.metadata if isinstance(one, Asked)), None)
        if asked is not None and name not in left_out:
            left_out |= {asked.or_by[0]} if asked.or_by else set()
            field = _field(name, declared, asked)
            fields.append(
                replace(
                    field,
                    value=(values or {}).get(name, field.value),
                    choices=(choices or {}).get(name, field.choices),
                    label=(labels or {}).get(name, field.label),
                )
            )
    return Entry(key or kind, kind, title, doing, tuple(fields), sends or {}, **more)


def kind_of(act: type[Act]) -> str:
    """What an act is told apart by."""
    return str(get_args(act.model_fields["kind"].annotation)[0])


def units_for(units: Iterable[UnitKnown], *, liquid: bool = False, first: Unit | None = None) -> tuple[Option, ...]:
    """What dry stuff, or a liquid, may be measured in as it is typed; `first` stands first."""
    ways = [
        Option(one.unit.value, one.many)
        for one in units
        if (one.liquid if liquid else one.powder) and one.unit is not Unit.WEIGH_BACK and not one.rare
    ]
    return tuple(sorted(ways, key=lambda way: first is not None and way.value != first))


def _field(name: str, declared: FieldInfo, asked: Asked) -> EntryField:
    plain = _plain(declared.annotation)
    default = None if declared.is_required() else declared.default
    bounds = [one for one in declared.metadata if hasattr(one, "max_length")]
    return EntryField(
        name,
        asked.label,
        asked.drawn or _drawn(plain, asked),
        asked.unit,
        default,
        declared.is_required(),
        asked.accepted,
        asked.large,
        plain is int,
        bounds[-1].max_length if bounds else 300,
        asked.live,
        asked.choices,
        (Option(name, asked.unit), Option(*asked.or_by)) if asked.or_by else (),
        asked.detail,
    )


def _plain(annotation: Any) -> Any:
    """A type without `None` and without what it is annotated with."""
    if get_origin(annotation) in (Union, types.UnionType):
        annotation = next(one for one in get_args(annotation) if one is not type(None))
    while hasattr(annotation, "__metadata__"):
        annotation = get_args(annotation)[0]
    return annotation


def _drawn(plain: Any, asked: Asked) -> Drawn:
    if asked.choices:
        return Drawn.CHOICE
    if plain is bool:
        return Drawn.CHECK
    if plain is AmountAsked:
        return Drawn.AMOUNT
    return Drawn.NUMBER if plain in (int, float) else Drawn.WORDS
