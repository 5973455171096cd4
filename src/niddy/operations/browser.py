"""Debian's Chromium, driven by Playwright, for screen tests and screenshots."""

from __future__ import annotations

import os
from pathlib import Path
from typing import TYPE_CHECKING

if TYPE_CHECKING:
    from playwright.sync_api import Browser, BrowserContext, Playwright

EXECUTABLES = (Path("/usr/bin/chromium-headless-shell"), Path("/usr/bin/chromium"))
"""The first of these that is here: the same engine, built without windows and with them."""

ARGUMENTS = (
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
)


def _executable() -> str:
    return str(next((one for one in EXECUTABLES if one.exists()), EXECUTABLES[0]))


def _arguments() -> list[str]:
    """Root has to do without the sandbox."""
    return [*ARGUMENTS, *(["--no-sandbox"] if os.geteuid() == 0 else [])]


def launch(playwright: Playwright, *more: str) -> Browser:
    """A headless browser, with `more` arguments than the usual."""
    return playwright.chromium.launch(executable_path=_executable(), args=[*_arguments(), *more])


def launch_kept(playwright: Playwright, profile: str, base_url: str) -> BrowserContext:
    """A headless browser that keeps what pages store, in a folder, until it is launched there again."""
    return playwright.chromium.launch_persistent_context(
        profile,
        executable_path=_executable(),
        args=_arguments(),
        base_url=base_url,
        viewport={"width": 1280, "height": 800},
    )
