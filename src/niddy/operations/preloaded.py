"""All that a start reads, read: imported once, by the process that others are forked from."""

import gc

from niddy import cli, demo
from niddy.api.app import create_app
from niddy.db import Database, migrations
from niddy.operations import backup, package, serve
from niddy.settings import Settings

__all__ = ["backup", "cli", "demo", "migrations", "package", "serve"]

# Rooms are read and their addresses built when an application is first made.
create_app(Settings(), Database("postgresql+psycopg://nobody@127.0.0.1/none"))

# What was read stays: no child has to look through it for what can be thrown away.
gc.freeze()
