"""The balance's port: a line at a time from a serial port or a socket of this machine, and the tare command."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable
from dataclasses import dataclass

import serial

from niddy.core.balance import GONE_AFTER_S, LINE_LIMIT, PLAIN_PATTERN, BalanceReading, Scales
from niddy.devices.patterns import compiled

log = logging.getLogger("niddy")
RETRY_S = 0.5


@dataclass(frozen=True, slots=True)
class Connection:
    """How a balance is reached and read. An empty pattern means the plain protocol."""

    port: str
    baud: int = 9600
    pattern: str = ""
    unit: str = "g"
    tare: str = "tare"


class BalancePort:
    """Reads a balance on a thread of its own while it is open, and says every reading to whoever listens.

    A lost cable is no error: it is said, and the port is tried again until it is closed.
    """

    def __init__(self, connection: Connection, heard: Callable[[BalanceReading], None]) -> None:
        self.connection = connection
        self._heard = heard
        self._scales = Scales(compiled(connection.pattern or PLAIN_PATTERN), connection.unit)
        self._closing = threading.Event()
        self._port: serial.Serial | None = None
        self._writing = threading.Lock()
        self._thread = threading.Thread(target=self._run, name="balance", daemon=True)

    def open(self) -> None:
        """Begin to read."""
        self._thread.start()

    def close(self) -> None:
        """Stop reading and let the port go."""
        self._closing.set()
        self._thread.join(timeout=3)

    def tare(self) -> bool:
        """Send the tare command; False where the balance is not there."""
        with self._writing:
            if self._port is None:
                return False
            try:
                self._port.write(self.connection.tare.encode("ascii", "ignore") + b"\r\n")
            except (serial.SerialException, OSError):
                return False
            return True

    def _run(self) -> None:
        said_gone = False
        while not self._closing.is_set():
            try:
                port = serial.serial_for_url(self.connection.port, baudrate=self.connection.baud, timeout=0.25)
            except (serial.SerialException, OSError, ValueError) as error:
                if not said_gone:
                    log.info("balance at %s: %s", self.connection.port, error)
                    self._heard(self._scales.gone("The balance does not answer: look at its cable and its port."))
                said_gone = True
                self._closing.wait(RETRY_S)
                continue
            with self._writing:
                self._port = port
            said_gone = self._listen(port)
            with self._writing:
                self._port = None
            with contextlib.suppress(serial.SerialException, OSError):
                port.close()
            self._closing.wait(RETRY_S)

    def _listen(self, port: serial.Serial) -> bool:
        """Read until the cable is lost or the port closed; whether the loss was said."""
        pending = b""
        last = time.monotonic()
        silent = False
        while not self._closing.is_set():
            try:
                pending += port.read(max(1, min(port.in_waiting, 4096)))
            except (serial.SerialException, OSError):
                self._heard(self._scales.gone("The balance was lost: look at its cable."))
                return True
            *lines, pending = pending.replace(b"\r", b"\n").split(b"\n")
            if len(pending) > LINE_LIMIT:
                lines, pending = [*lines, pending], b""
            # Only the newest lines matter to a hand that pours.
            for line in [line for line in lines if line.strip()][-8:]:
                self._heard(self._scales.read(line.decode("ascii", "replace")))
                last, silent = time.monotonic(), False
            if time.monotonic() - last > GONE_AFTER_S and not silent:
                self._heard(self._scales.gone("The balance is silent: is it on?"))
                silent = True
        return False
