"""A port that says a line at a time, against a made-up device on a socket of this machine."""

import queue
import socket
import threading
import time
import unittest
from collections.abc import Callable

from niddy.devices import line_port
from niddy.devices.line_port import LinePort, ReadingPort

PATIENCE_S = 10


class Device:
    """Listens as a device would; says what it is told to, and loses its cable when asked to."""

    def __init__(self) -> None:
        self._server = socket.create_server(("127.0.0.1", 0))
        self.port = self._server.getsockname()[1]
        self.there: queue.Queue[socket.socket] = queue.Queue()
        self._thread = threading.Thread(target=self._accept, daemon=True)
        self._thread.start()

    def _accept(self) -> None:
        while True:
            try:
                self.there.put(self._server.accept()[0])
            except OSError:
                return

    def close(self) -> None:
        self._server.close()


class Heard(LinePort):
    """Keeps what was heard, in order."""

    what = "scale"

    def __init__(self, port: int) -> None:
        super().__init__(f"socket://127.0.0.1:{port}", 9600)
        self.said: queue.Queue[tuple[str, str]] = queue.Queue()

    def heard_line(self, line: str) -> None:
        self.said.put(("line", line))

    def heard_gone(self, says: str) -> None:
        self.said.put(("gone", says))


class Lines(unittest.TestCase):
    def setUp(self) -> None:
        self.device = Device()
        self.addCleanup(self.device.close)
        self.heard = Heard(self.device.port)
        self.heard.open()
        self.addCleanup(self.heard.close)
        self.cable = self.listening()

    def listening(self) -> socket.socket:
        """The device's end of the cable, once the port listens: what comes while it opens is thrown away."""
        cable = self.device.there.get(timeout=PATIENCE_S)
        self.addCleanup(cable.close)
        until = time.monotonic() + PATIENCE_S
        while not self.heard.write_line("?") and time.monotonic() < until:
            time.sleep(0.01)
        cable.settimeout(PATIENCE_S)
        self.assertEqual(cable.recv(3), b"?\r\n")
        return cable

    def next(self) -> tuple[str, str]:
        return self.heard.said.get(timeout=PATIENCE_S)

    def test_lines_come_whole_however_they_are_cut(self) -> None:
        for piece in (b"12.", b"30 g\r", b"\n\r\n12.40", b" g\n"):
            self.cable.sendall(piece)
        self.assertEqual([self.next(), self.next()], [("line", "12.30 g"), ("line", "12.40 g")])

    def test_a_line_without_an_end_is_cut_and_noise_is_text(self) -> None:
        self.cable.sendall(b"x" * (line_port.LINE_LIMIT + 40))
        kind, line = self.next()
        self.assertEqual(kind, "line")
        self.assertEqual(set(line), {"x"})
        self.cable.sendall(b"\n\xff\xfe12\n")
        lines = [self.next()[1]]
        while "12" not in lines[-1]:
            lines.append(self.next()[1])
        self.assertNotIn("\xff", lines[-1])

    def test_a_lost_cable_is_said_and_the_port_is_tried_again(self) -> None:
        self.cable.close()
        kind, says = self.next()
        self.assertEqual((kind, says), ("gone", "The scale was lost: look at its cable."))
        again = self.listening()
        again.sendall(b"1.00 g\n")
        self.assertEqual(self.next(), ("line", "1.00 g"))

    def test_a_line_is_sent_while_somebody_is_there(self) -> None:
        self.cable.sendall(b"0.00 g\n")
        self.next()
        self.assertTrue(self.heard.write_line("T"))
        self.assertEqual(self.cable.recv(16), b"T\r\n")


class Silent(unittest.TestCase):
    def test_where_nothing_listens_it_is_said_once(self) -> None:
        with socket.create_server(("127.0.0.1", 0)) as nobody:
            port = nobody.getsockname()[1]
        heard = Heard(port)
        heard.open()
        self.addCleanup(heard.close)
        kind, says = heard.said.get(timeout=PATIENCE_S)
        self.assertEqual((kind, says), ("gone", "The scale does not answer: look at its cable and its port."))
        with self.assertRaises(queue.Empty):
            heard.said.get(timeout=3 * line_port.RETRY_S)
        self.assertFalse(heard.write_line("T"))


class Readings(unittest.TestCase):
    def test_each_line_is_one_reading_and_silence_is_one_too(self) -> None:
        class Degrees(ReadingPort[str]):
            what = "thermometer"
            read: Callable[[str], str] = staticmethod(lambda line: f"{float(line):.0f} °C")
            gone: Callable[[str], str] = staticmethod(lambda says: says)

        heard: list[str] = []
        port = Degrees("socket://127.0.0.1:9", heard.append)
        port.heard_line("71.4")
        port.heard_gone("The thermometer is silent: is it on?")
        self.assertEqual(heard, ["71 °C", "The thermometer is silent: is it on?"])
        self.assertEqual(port.connection, "socket://127.0.0.1:9")
