"""Advice: one line about what to do next, and its reason."""

from niddy.core.advice.acts import Advice, NextAct, Planned
from niddy.core.advice.advising import advise, phase_now
from niddy.core.advice.standing import mulling_now, planned_lines

__all__ = ["Advice", "NextAct", "Planned", "advise", "mulling_now", "phase_now", "planned_lines"]
