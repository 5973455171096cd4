"""Alembic's environment: online only."""

from alembic import context
from sqlalchemy import create_engine, pool

from niddy import registry
from niddy.db import Base

registry.load_tables()

engine = create_engine(context.config.get_main_option("sqlalchemy.url") or "", poolclass=pool.NullPool)
with engine.connect() as connection:
    context.configure(connection=connection, target_metadata=Base.metadata)
    with context.begin_transaction():
        context.run_migrations()
