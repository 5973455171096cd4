"""What can go wrong with a command outside of our hands: one line for a person each."""

from __future__ import annotations


class OperationError(RuntimeError):
    """A command cannot do its work; the message says why and what to do, in words for a person."""


def in_a_line(said: str) -> str:
    """What a program said of its failure, in one line: how it begins, which is why it failed."""
    if "No space left on device" in said:
        return "no room left on the disk"
    return " ".join(said.split())[:400]
