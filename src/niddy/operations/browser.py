"""Debian's Chromium, driven by Playwright, for screen tests and screenshots."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from playwright.sync_api import Browser, Playwright

EXECUTABLE = Path("/usr/bin/chromium")
ARGUMENTS = (
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)


def launch(playwright: Playwright) -> Browser:
    """A headless browser; root has to do without the sandbox."""
    arguments = [*ARGUMENTS, *(["--no-sandbox"] if os.geteuid() == 0 else [])]
    return playwright.chromium.launch(executable_path=str(EXECUTABLE), args=arguments)
