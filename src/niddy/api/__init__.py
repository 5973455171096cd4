"""The web floor: one FastAPI router per room over the studio."""

from niddy.api.app import create_app

__all__ = ["create_app"]
