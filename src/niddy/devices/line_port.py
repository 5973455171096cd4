"""A port that says a line at a time: a serial port or a socket of this machine, read on a thread of its own."""

from __future__ import annotations

import contextlib
import logging
import threading
import time
from collections.abc import Callable
from typing import Generic, TypeVar

import serial

R = TypeVar("R")
log = logging.getLogger("niddy")
RETRY_S = 0.5
GONE_AFTER_S = 2.5
"""Without a line for so long, what is at the other end counts as gone."""

LINE_LIMIT = 200


class LinePort:
    """Reads lines while it is open. A lost cable is no error: it is said, and the port is tried again until closed.

    Who derives from it says what a line means (`heard_line`) and what its silence is called (`heard_gone`); `what` is
    its name in words.
    """

    what = "device"

    def __init__(self, port: str, baud: int) -> None:
        self._url, self._baud = port, baud
        self._closing = threading.Event()
        self._port: serial.Serial | None = None
        self._writing = threading.Lock()
        self._thread = threading.Thread(target=self._run, name=self.what, daemon=True)

    def heard_line(self, line: str) -> None:
        """One line that came."""
        raise NotImplementedError

    def heard_gone(self, says: str) -> None:
        """Nothing comes any more, and why."""
        raise NotImplementedError

    def open(self) -> None:
        """Begin to read."""
        self._thread.start()

    def close(self) -> None:
        """Stop reading and let the port go."""
        self._closing.set()
        self._thread.join(timeout=3)

    def write_line(self, line: str) -> bool:
        """Send a line; False where nobody is there."""
        with self._writing:
            if self._port is None:
                return False
            try:
                self._port.write(line.encode("ascii", "ignore") + b"\r\n")
            except (serial.SerialException, OSError):
                return False
            return True

    def _run(self) -> None:
        said_gone = False
        while not self._closing.is_set():
            try:
                port = serial.serial_for_url(self._url, baudrate=self._baud, timeout=0.25)
            except (serial.SerialException, OSError, ValueError) as error:
                if not said_gone:
                    log.info("%s at %s: %s", self.what, self._url, error)
                    self.heard_gone(f"The {self.what} does not answer: look at its cable and its port.")
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
                self.heard_gone(f"The {self.what} was lost: look at its cable.")
                return True
            *lines, pending = pending.replace(b"\r", b"\n").split(b"\n")
            if len(pending) > LINE_LIMIT:
                lines, pending = [*lines, pending], b""
            # Only the newest lines matter to a hand that pours.
            for line in [line for line in lines if line.strip()][-8:]:
                self.heard_line(line.decode("ascii", "replace"))
                last, silent = time.monotonic(), False
            if time.monotonic() - last > GONE_AFTER_S and not silent:
                self.heard_gone(f"The {self.what} is silent: is it on?")
                silent = True
        return False


class ReadingPort(LinePort, Generic[R]):
    """A device each of whose lines is one reading, said to whoever listens.

    `read` says what a line means, `gone` what its silence is; who derives from it says these three and no more.
    """

    baud = 9600
    read: Callable[[str], R]
    gone: Callable[[str], R]

    def __init__(self, port: str, heard: Callable[[R], None]) -> None:
        super().__init__(port, self.baud)
        self.connection = port
        self._heard = heard

    def heard_line(self, line: str) -> None:
        self._heard(type(self).read(line))

    def heard_gone(self, says: str) -> None:
        self._heard(type(self).gone(says))
