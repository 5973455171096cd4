"""The demo acted out through the studio floor: what its package is made of, and held against."""

from tests.demo.scenario import load

__all__ = ["load"]
