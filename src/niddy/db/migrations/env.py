"""Alembic's environment: online only."""

from alembic import context
from sqlalchemy import create_engine, pool

from niddy.db import Base, additives, batches, checks, late, materials, photos, plan, recipes, rubout, shelf, workshop  # noqa: F401

engine = create_engine(context.config.get_main_option("sqlalchemy.url") or "", poolclass=pool.NullPool)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
