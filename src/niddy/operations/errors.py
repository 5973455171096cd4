"""What can go wrong with a command outside of our hands: one line for a person each."""

from __future__ import annotations


class OperationError(RuntimeError):
    """A command cannot do its work; the message says why and what to do, in words for a person."""
