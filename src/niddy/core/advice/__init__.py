"""Advice: one line about what to do next, and its reason."""

from niddy.core.advice.acts import Advice, NextAct, Planned
from niddy.core.advice.advising import advise, looser, phase_now

__all__ = ["Advice", "NextAct", "Planned", "advise", "looser", "phase_now"]
