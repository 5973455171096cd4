"""Additives: what can be stirred in, gels made beforehand, ladders run and read, body by intent."""

from __future__ import annotations

from niddy.studio.additives.by_intent import IntentAsked, routes
from niddy.studio.additives.designing import LadderAsked, LadderPart, TargetAsked, design
from niddy.studio.additives.forms import Choice, choices
from niddy.studio.additives.gels import GelAsked, make_gel, plan_gel
from niddy.studio.additives.ladder_lists import LadderLine, halos_due, lines, waits
from niddy.studio.additives.ladders import LADDERS, LadderPage, begin, page, page_of, retarget, retire
from niddy.studio.additives.rung_acts import RungKind
from niddy.studio.additives.teaching import found, known, taught

__all__ = [
    "LADDERS",
    "Choice",
    "GelAsked",
    "IntentAsked",
    "LadderAsked",
    "LadderLine",
    "LadderPage",
    "LadderPart",
    "RungKind",
    "TargetAsked",
    "begin",
    "choices",
    "design",
    "found",
    "halos_due",
    "known",
    "lines",
    "make_gel",
    "page",
    "page_of",
    "plan_gel",
    "retarget",
    "retire",
    "routes",
    "taught",
    "waits",
]
