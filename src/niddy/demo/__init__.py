"""The demo scenario: a made-up studio, loaded through the studio floor."""

from niddy.demo.scenario import load, load_if_empty

__all__ = ["load", "load_if_empty"]
