"""Names as people type them: accents, capitals, commas and hyphens do not matter."""

from __future__ import annotations

import re
import unicodedata

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
