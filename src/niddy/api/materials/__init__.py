"""Materials: the shipped library, the studio's own beside it, and the shelf of lots."""

from niddy.api.materials import lots, tables
from niddy.api.materials.base import router

__all__ = ["lots", "router", "tables"]
