"""Rub-outs, and the oil demand that is learned from them and from the verdicts on batches."""

from __future__ import annotations

from niddy.studio.rubout.learning import adopt, confirm, enter_prior, forget_prior, note_batch, set_aside, untested
from niddy.studio.rubout.pages import LotDemand, PigmentPage, pigment_page
from niddy.studio.rubout.spooned import spooned
from niddy.studio.rubout.tests import (
    Test,
    TestLine,
    abort,
    add_oil,
    begin,
    end,
    open_tests,
    still_open,
    test,
    tests,
    undo,
)

__all__ = [
    "LotDemand",
    "PigmentPage",
    "Test",
    "TestLine",
    "abort",
    "add_oil",
    "adopt",
    "begin",
    "confirm",
    "end",
    "enter_prior",
    "forget_prior",
    "note_batch",
    "open_tests",
    "pigment_page",
    "set_aside",
    "spooned",
    "still_open",
    "test",
    "tests",
    "undo",
    "untested",
]
