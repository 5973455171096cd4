"""One settings object, from environment variables."""

from __future__ import annotations

from datetime import UTC, date, datetime, time
from pathlib import Path

from pydantic import AnyHttpUrl
from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).resolve().parents[2]


class Settings(BaseSettings):
    """NIDDY_HOME, NIDDY_PORT, NIDDY_DATABASE_URL (any PostgreSQL), NIDDY_TODAY (a frozen clock), NIDDY_ADDRESS.

    `address` is where phones and tablets of the studio's own network reach it, such as http://192.168.1.20:8740: given,
    Niddy listens on the network and labels carry it; left out, on this machine alone.
    """

    model_config = SettingsConfigDict(env_prefix="NIDDY_")

    home: Path = ROOT / ".niddy"
    port: int = 8740
    database_url: str | None = None
    today: date | None = None
    address: AnyHttpUrl | None = None

    @property
    def origin(self) -> str | None:
        """The address without a slash at its end."""
        return str(self.address).rstrip("/") if self.address is not None else None

    def now(self) -> datetime:
        """The time in UTC; 10:00 of the frozen day where there is one."""
        if self.today is not None:
            return datetime.combine(self.today, time(10, 0), tzinfo=UTC)
        return datetime.now(UTC)
