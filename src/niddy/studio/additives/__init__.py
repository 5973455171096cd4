"""Additives: what can be stirred in, gels made beforehand, ladders run and read, body by intent."""

from __future__ import annotations

from niddy.studio.additives.by_intent import IntentAsked, routes
from niddy.studio.additives.designing import LadderAsked, LadderPart, TargetAsked, design
from niddy.studio.additives.forms import Choice, choices
from niddy.studio.additives.gels import GelAsked, make_gel, plan_gel
from niddy.studio.additives.ladders import (
    LadderLine,
    LadderPage,
    act,
    begin,
    halos_due,
    lines,
    page,
    retarget,
    retire,
    waits,
)
from niddy.studio.additives.rung_acts import RungAct, RungActAsked, rung_act_of
from niddy.studio.additives.teaching import found, known, taught

__all__ = [
    "Choice",
    "GelAsked",
    "IntentAsked",
    "LadderAsked",
    "LadderLine",
    "LadderPage",
    "LadderPart",
    "RungAct",
    "RungActAsked",
    "TargetAsked",
    "act",
    "begin",
    "choices",
    "design",
    "found",
    "halos_due",
    "known",
    "lines",
    "make_gel",
    "page",
    "plan_gel",
    "retarget",
    "retire",
    "routes",
    "rung_act_of",
    "taught",
    "waits",
]
