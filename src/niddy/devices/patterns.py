"""The pattern of a balance's lines, in an engine whose time grows with the line alone, whatever the pattern."""

from __future__ import annotations

import re2  # type: ignore[import-untyped]

from niddy.core.balance import PATTERN_LIMIT, LinePattern
from niddy.core.errors import Refused


def compiled(pattern: str) -> LinePattern:
    """The pattern of a balance's lines. Raises Refused where it is no pattern or names no weight."""
    if len(pattern) > PATTERN_LIMIT:
        raise Refused("balance_pattern", f"{len(pattern)} characters", f"up to {PATTERN_LIMIT}")
    options = re2.Options()
    options.log_errors = False
    options.max_mem = 2_000_000
    try:
        made: LinePattern = re2.compile(pattern, options=options)
    except re2.error as error:
        why = error.args[0].decode() if error.args and isinstance(error.args[0], bytes) else str(error)
        raise Refused("balance_pattern", f"not a pattern: {why}", "a regular expression") from None
    if "weight" not in made.groupindex:
        raise Refused("balance_pattern", "nothing in it is named weight", r"a group such as (?P<weight>-?\d+\.\d+)")
    return made
