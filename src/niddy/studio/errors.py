"""What the studio floor says besides the core's Refused."""

from __future__ import annotations


class Missing(Exception):
    """Nothing is kept under that id."""

    def __init__(self, what: str, key: object, field: str = "") -> None:
        super().__init__(f"no {what} {key}")
        self.what, self.key, self.field = what, key, field


class Conflict(Exception):
    """The request contradicts what is already on record."""

    def __init__(self, field: str, problem: str, accepted: str) -> None:
        super().__init__(problem)
        self.field, self.problem, self.accepted = field, problem, accepted
