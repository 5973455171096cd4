"""One settings object, from environment variables."""

from __future__ import annotations

import ipaddress
from datetime import UTC, date, datetime, time
from pathlib import Path
from typing import Annotated

from pydantic import AfterValidator, AnyHttpUrl, Field, ValidationInfo, field_validator
from pydantic_settings import BaseSettings, SettingsConfigDict

ROOT = Path(__file__).resolve().parents[2]


def _plain(url: AnyHttpUrl) -> AnyHttpUrl:
    """An address Niddy can really serve: http or https, one host by name or IPv4, nothing after the port."""
    if (
        url.scheme not in ("http", "https")
        or url.path not in (None, "", "/")
        or url.query
        or url.fragment
        or url.username
    ):
        raise ValueError("not a plain address")
    host = url.host or ""
    if host.startswith("[") or "*" in host or not host.strip("."):
        raise ValueError("not one host")
    try:
        if ipaddress.IPv4Address(host).is_unspecified:
            raise ValueError("every host is none")
    except ipaddress.AddressValueError:
        pass
    return url


class Settings(BaseSettings):
    """NIDDY_HOME, NIDDY_PORT, NIDDY_DATABASE_URL (any PostgreSQL), NIDDY_TODAY (a frozen clock), NIDDY_ADDRESS.

    `address` is where phones and tablets of the studio's own network reach it, such as http://192.168.1.20:8740: given,
    Niddy listens on the network, people sign in, and labels carry it; left out, on this machine alone. With https it
    needs `certificate` and `certificate_key` (NIDDY_CERTIFICATE, NIDDY_CERTIFICATE_KEY), or those that
    ./niddy certificate made.
    """

    model_config = SettingsConfigDict(env_prefix="NIDDY_")

    home: Path = ROOT / ".niddy"
    port: Annotated[int, Field(ge=1, le=65_535)] = 8740
    database_url: str | None = None
    today: date | None = None
    address: Annotated[AnyHttpUrl, AfterValidator(_plain)] | None = None
    certificate: Path | None = None
    certificate_key: Path | None = None

    @field_validator("address")
    @classmethod
    def _on_our_port(cls, url: AnyHttpUrl | None, info: ValidationInfo) -> AnyHttpUrl | None:
        port = info.data.get("port")
        if url is not None and port is not None and url.port != port:
            raise ValueError(f"its port is not {port}")
        return url

    @property
    def hosts(self) -> list[str]:
        """The names it answers to."""
        named = self.address.host if self.address is not None else None
        return ["127.0.0.1", "localhost", *([named] if named else [])]

    @property
    def origin(self) -> str | None:
        """The address without a slash at its end."""
        return str(self.address).rstrip("/") if self.address is not None else None

    @property
    def scheme(self) -> str:
        """http, or https where the address says so."""
        return self.address.scheme if self.address is not None else "http"

    def now(self) -> datetime:
        """The time in UTC; 10:00 of the frozen day where there is one."""
        if self.today is not None:
            return datetime.combine(self.today, time(10, 0), tzinfo=UTC)
        return datetime.now(UTC)
