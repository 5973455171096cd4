"""Tests of every floor. Property tests are bounded by examples, never by wall-clock time."""

from hypothesis import settings

settings.register_profile("niddy", deadline=None)
settings.load_profile("niddy")
