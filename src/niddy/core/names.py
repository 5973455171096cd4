"""Names as people type them: accents, capitals, commas and hyphens do not matter."""

from __future__ import annotations

import re
import unicodedata
from collections.abc import Sequence
from dataclasses import dataclass

from rapidfuzz import fuzz
from rapidfuzz.distance import OSA

_APART = re.compile(r"[\W_]+")
_SPACED = re.compile(r"[\s,;]+")


def folded(text: str) -> str:
    """A text in small letters without accents, everything but letters and figures a single space."""
    spread = unicodedata.normalize("NFKD", unicodedata.normalize("NFKD", text).casefold())
    plain = "".join(c for c in spread if not unicodedata.combining(c))
    return _APART.sub(" ", plain).strip()


def words_of(text: str) -> tuple[str, ...]:
    """The words to look for in what somebody typed; a code such as 24-1 stays one."""
    words: list[str] = []
    for word in _SPACED.split(text.casefold()):
        words += [word.strip("#.,;:-")] if any(c.isdecimal() for c in word) else folded(word).split()
    return tuple(word for word in words if word)


def searched(*names: str) -> str:
    """All that something is called as one text to look for words in, as written and folded."""
    whole = " ".join(name for name in names if name)
    return f"{whole.casefold()} {folded(whole)}"


_SPELT = {
    "ocher": "ochre",
    "ochers": "ochre",
    "ochres": "ochre",
    "gray": "grey",
    "color": "colour",
    "aluminum": "aluminium",
    "sulfide": "sulphide",
    "sulfate": "sulphate",
    "odorless": "odourless",
    "vermillion": "vermilion",
}
"""American spellings and usual slips of the trade, as the library writes them."""

SLIP_FROM = 5
"""A word of so many letters may have one slip of the finger."""

LIKE_FROM = 45.0
"""What is less alike than this (of 100) is not offered as near."""

NEAREST = 3


@dataclass(frozen=True, slots=True)
class Named:
    """Something by its own name and all else it is called; `codes` are matched as they begin, never by likeness."""

    key: str
    name: str
    also: tuple[str, ...] = ()
    codes: tuple[str, ...] = ()


@dataclass(frozen=True, slots=True)
class NameFound:
    """Something found, by which other name where its own does not say so."""

    key: str
    also: str = ""


@dataclass(frozen=True, slots=True)
class NamesFound:
    """What was found, the nearest first; where nothing was, the few that are most alike."""

    found: tuple[NameFound, ...]
    nearest: tuple[NameFound, ...] = ()


_COLOUR_INDEX = re.compile(r"\b(p[a-z]{1,2}|n[a-z]{1,2}) (\d+)\b")


def _spelt(text: str) -> list[str]:
    return [_SPELT.get(word, word) for word in _COLOUR_INDEX.sub(r"\1\2", folded(text)).split()]


def _hit(typed: str, word: str) -> int:
    """How well a word answers one that was typed: whole 3, as its beginning 2, with one slip 1, not at all 0."""
    if typed == word:
        return 3
    if word.startswith(typed):
        return 2
    # Nobody slips on the first letter: azurite is not lazurite.
    slips = len(typed) >= SLIP_FROM and len(word) >= SLIP_FROM and typed[0] == word[0]
    return 1 if slips and OSA.distance(typed, word, score_cutoff=1) <= 1 else 0


def find_named(typed: str, things: Sequence[Named]) -> NamesFound:
    """Find things by whole words and their beginnings in any order, by synonym, code, or one slip of the finger.

    Words that nothing is called by (deep, German) do not stand in the way of those that something is.
    """
    asked = _spelt(typed)
    if not asked:
        return NamesFound(tuple(NameFound(thing.key) for thing in things))
    read = [(thing, _words(thing)) for thing in things]
    best = {word: max((_best(word, words) for _, words in read), default=0) for word in asked}
    known = [word for word in asked if best[word]]
    hits = []
    for n, (thing, words) in enumerate(read):
        scores = [_best(word, words) for word in known]
        if known and all(scores):
            own = sum(any(_hit(word, w) for w in _spelt(thing.name)) for word in known)
            spare = len(_spelt(thing.name))
            hits.append((-own, -sum(scores), spare, n, NameFound(thing.key, _alias(thing, known))))
    if hits:
        return NamesFound(tuple(hit[-1] for hit in sorted(hits, key=lambda hit: hit[:-1])))
    # No one thing is called by all of it: what is called by most of it, the last word (ochre, blue) before others.
    partly = [
        (-_best(known[-1], words), -sum(_best(word, words) for word in known), n, thing)
        for n, (thing, words) in enumerate(read)
        if known and any(_best(word, words) for word in known)
    ]
    if len(known) > 1:
        enough = [one for one in partly if sum(bool(_best(w, _words(one[-1]))) for w in known) * 2 > len(known)]
        if enough:
            return NamesFound(tuple(NameFound(o[-1].key, _alias(o[-1], known)) for o in sorted(enough, key=_rank)))
    like = sorted(((-_likeness(asked, thing), n, thing.key) for n, thing in enumerate(things)))
    return NamesFound((), tuple(NameFound(key) for score, _, key in like[:NEAREST] if -score >= LIKE_FROM))


def _likeness(asked: Sequence[str], thing: Named) -> float:
    """How alike a name is to what was typed, of 100; one that differs by its first letter alone is another thing."""
    names = [_spelt(name) for name in (thing.name, *thing.also)]
    if any(a[0] != w[0] and OSA.distance(a, w, score_cutoff=2) <= 2 for a in asked for name in names for w in name):
        return 0.0
    return max(fuzz.WRatio(" ".join(asked), " ".join(name)) for name in names)


def _rank(one: tuple[int, int, int, Named]) -> tuple[int, int, int]:
    return one[:3]


def _words(thing: Named) -> tuple[str, ...]:
    names = [word for name in (thing.name, *thing.also) for word in _spelt(name)]
    return (*names, *(word for code in thing.codes for word in (folded(code), folded(code).replace(" ", "")) if word))


def _best(word: str, words: Sequence[str]) -> int:
    return max((_hit(word, one) for one in words), default=0)


def _alias(thing: Named, typed: Sequence[str]) -> str:
    """The other name that was meant, where its own does not answer every word."""
    own = _spelt(thing.name)
    if all(_best(word, own) for word in typed):
        return ""
    return next((name for name in thing.also if all(_best(word, _spelt(name)) for word in typed)), "")
