"""Rub-outs, and the oil demand that is learned from them and from the verdicts on batches."""

from __future__ import annotations

from niddy.studio.rubout.learning import enter_prior, forget_prior, note_verdict, set_aside, unseen_demand
from niddy.studio.rubout.pages import LotDemand, PigmentPage, pigment_page
from niddy.studio.rubout.tests import Test, TestLine, abort, add_oil, begin, end, open_tests, test, tests, undo

__all__ = [
    "LotDemand",
    "PigmentPage",
    "Test",
    "TestLine",
    "abort",
    "add_oil",
    "begin",
    "end",
    "enter_prior",
    "forget_prior",
    "note_verdict",
    "open_tests",
    "pigment_page",
    "set_aside",
    "test",
    "tests",
    "undo",
    "unseen_demand",
]
