"""One settings object, from environment variables."""

from __future__ import annotations

from datetime import UTC, date, datetime, time
from pathlib import Path

from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).resolve().parents[2]


class Settings(BaseSettings):
    """NIDDY_HOME, NIDDY_PORT, NIDDY_DATABASE_URL (any PostgreSQL), NIDDY_TODAY (a frozen clock)."""

    model_config = SettingsConfigDict(env_prefix="NIDDY_")

    home: Path = ROOT / ".niddy"
    port: int = 8740
    database_url: str | None = None
    today: date | None = None

    def now(self) -> datetime:
        """The time in UTC; 10:00 of the frozen day where there is one."""
        if self.today is not None:
            return datetime.combine(self.today, time(10, 0), tzinfo=UTC)
        return datetime.now(UTC)
