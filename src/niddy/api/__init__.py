"""The web floor: one FastAPI router per room over the studio."""
