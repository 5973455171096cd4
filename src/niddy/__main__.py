"""python -m niddy."""

from niddy.cli import app

app()
