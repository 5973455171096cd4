"""The record: SQLAlchemy tables, one module per room, with engine, session and migrations."""

from niddy.db.base import Base
from niddy.db.engine import Database

__all__ = ["Base", "Database"]
