"""The balance's port: its readings, and the tare command."""

from __future__ import annotations

from collections.abc import Callable
from dataclasses import dataclass

from niddy.core.balance import PLAIN_PATTERN, BalanceReading, Scales
from niddy.devices.line_port import LinePort
from niddy.devices.patterns import compiled


@dataclass(frozen=True, slots=True)
class Connection:
    """How a balance is reached and read. An empty pattern means the plain protocol."""

    port: str
    baud: int = 9600
    pattern: str = ""
    unit: str = "g"
    tare: str = "tare"


class BalancePort(LinePort):
    """Reads a balance while it is open, and says every reading to whoever listens."""

    what = "balance"

    def __init__(self, connection: Connection, heard: Callable[[BalanceReading], None]) -> None:
        super().__init__(connection.port, connection.baud)
        self.connection = connection
        self._heard = heard
        self._scales = Scales(compiled(connection.pattern or PLAIN_PATTERN), connection.unit)

    def heard_line(self, line: str) -> None:
        self._heard(self._scales.read(line))

    def heard_gone(self, says: str) -> None:
        self._heard(self._scales.gone(says))

    def tare(self) -> bool:
        """Send the tare command; False where the balance is not there."""
        return self.write_line(self.connection.tare)
