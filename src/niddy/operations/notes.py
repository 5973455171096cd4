"""The notes of a cluster: where it listens and by which password it is reached; written whole or not at all."""

from __future__ import annotations

import os
import re
from pathlib import Path


class Notes:
    """Two files of a home. What is empty or garbled is as good as not there, and is written anew by the next start."""

    def __init__(self, home: Path) -> None:
        self.home = home
        self.port_file, self.password_file = home / "port", home / "password"

    def port(self) -> int | None:
        """The port noted, or None."""
        said = _read(self.port_file)
        return int(said) if said.isascii() and said.isdecimal() and 0 < int(said) < 65_536 else None

    def password(self) -> str | None:
        """The password noted, or None."""
        said = _read(self.password_file)
        return said if re.fullmatch(r"[A-Za-z0-9_-]{20,80}", said) else None

    def trouble(self) -> str:
        """What is wrong with them and what to do, or empty."""
        if self.password_file.exists() and self.password() is None:
            return f"{self.password_file} is empty or garbled; ./niddy start makes a new password"
        if self.port_file.exists() and self.port() is None:
            return f"{self.port_file} is empty or garbled; ./niddy start writes it anew"
        return ""

    def write_port(self, port: int) -> None:
        """Note a port."""
        self._write(self.port_file, str(port))

    def write_password(self, password: str) -> None:
        """Note a password."""
        self._write(self.password_file, password)

    def _write(self, file: Path, text: str) -> None:
        beside = file.with_name(f"{file.name}.new")
        beside.unlink(missing_ok=True)
        with open(os.open(beside, os.O_WRONLY | os.O_CREAT | os.O_EXCL, 0o600), "w") as to:
            to.write(text)
            to.flush()
            os.fsync(to.fileno())
        beside.rename(file)
        sync_folder(self.home)


def _read(file: Path) -> str:
    try:
        return file.read_text().strip()
    except (FileNotFoundError, UnicodeDecodeError):
        return ""


def sync_folder(folder: Path) -> None:
    """See to it that what was renamed in a folder stays so."""
    descriptor = os.open(folder, os.O_RDONLY)
    try:
        os.fsync(descriptor)
    finally:
        os.close(descriptor)
