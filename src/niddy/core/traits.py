"""What a painter wants to know of a pigment, in words: how it covers, colours, lasts, dries and feels."""

from __future__ import annotations

from dataclasses import dataclass

from niddy.core.materials import Particle, Pigment


@dataclass(frozen=True, slots=True)
class Trait:
    """One trait: what it is, the word for it, and what that means at the easel. `level` is 1 to 3, None where unknown.

    General figures of the library (approximate).
    """

    key: str
    name: str
    word: str
    says: str
    level: int | None


_OPACITY = {
    "transparent": ("transparent", "glazes well; masstone looks darker than its tint", 1),
    "semi": ("half covering", "covers in two coats", 2),
    "opaque": ("opaque", "covers in one coat", 3),
}
_TINTING = {
    "none": ("none", "fills and stretches, without colouring", None),
    "low": ("weak", "takes much of it to shift a white", 1),
    "medium": ("middling", "holds its own in a mixture", 2),
    "high": ("strong", "a little goes far: add it last", 3),
}
_LIGHT = {
    "I": ("lasts", "class I: no change to fear indoors", 3),
    "II": ("good", "class II: keep tints out of the sun", 2),
    "III": ("fades", "class III: a light test first, and never in a thin tint", 1),
}
_DRYING = {
    "fast": ("quick", "dries ahead of its oil: helps slow oils and underpainting", 3),
    "medium": ("as its oil", "dries with the oil it is in", 2),
    "slow": ("slow", "holds its oil open: not under other paint while fresh", 1),
}
_GRIT = {
    Particle.FINE: ("none", "no grit once it is worked out", 1),
    Particle.MEDIUM: ("hardly any", "a trace in a thin smear is usual", 2),
    Particle.COARSE: ("a little", "always feels a little gritty; that is normal", 3),
}
_UNKNOWN = ("not known", "nobody told; test it", None)

_PALE = "poppy, safflower or walnut oil: they yellow least"
_QUICK = "linseed oil or an alkyd medium: they dry it"
_ANY = "any oil; linseed makes the toughest film"


def traits_of(pigment: Pigment) -> tuple[Trait, ...]:
    """The traits of a pigment, in the order in which they are asked for."""
    rows = (
        ("covering", "Covering", _OPACITY.get(pigment.opacity, _UNKNOWN)),
        ("strength", "Strength", _TINTING.get(pigment.tinting, _UNKNOWN)),
        ("light", "In the light", _LIGHT.get(pigment.lightfast_class, _UNKNOWN)),
        ("drying", "Drying", _DRYING.get(pigment.drying, _UNKNOWN)),
        ("grit", "Grit to expect", _GRIT[pigment.particle]),
    )
    return tuple(Trait(key, name, word, says, level) for key, name, (word, says, level) in rows)


def oils_for(pigment: Pigment) -> str:
    """The oils it goes well with, and why."""
    if pigment.family in ("white", "blue", "violet") and pigment.drying != "slow":
        return _PALE
    if pigment.drying == "slow":
        return f"{_QUICK}; for a pale one {_PALE.split(':')[0]}, and patience" if pigment.family == "white" else _QUICK
    return _ANY
