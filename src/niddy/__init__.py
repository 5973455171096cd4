"""Niddy: a working instrument for makers of artists' oil colour."""

__version__ = "0.1.0"
