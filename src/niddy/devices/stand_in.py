"""A stand-in balance, thermometer and pH meter: a small process with a page of its own, on which one pours and heats.

It speaks the plain protocol (see `niddy.core.balance`) on a socket of this machine, ten lines a second, to as
many readers as connect: `weight=12.34 g; steady`, `weight=12.31 g; moving`, `weight=over; full`. It takes `tare`.
On a second socket the thermometer says `temperature=83.4 C`, on a third the pH meter says `ph=7.24`.
"""

from __future__ import annotations

import asyncio
import contextlib
import random
import time
from collections.abc import AsyncIterator, Callable
from dataclasses import dataclass, field
from pathlib import Path
from typing import Literal, Protocol

from fastapi import FastAPI
from fastapi.responses import HTMLResponse
from pydantic import BaseModel, Field

PAGE = Path(__file__).with_suffix(".html")
LINES_PER_SECOND = 10
CAPACITY_G = 600.0
STEADY_WITHIN_G = 0.004
READABILITY_DIGITS = 2


@dataclass
class Pan:
    """The pan: what lies on it, how fast the display follows, and what ails it. Masses g, times s.

    `settle_s` is the time in which the display covers two thirds of a step; `noise_g` the sd of its flicker;
    `drift_g_per_min` creeps on.
    """

    on_pan_g: float = 0.0
    tare_g: float = 0.0
    shown_g: float = 0.0
    settle_s: float = 0.35
    noise_g: float = 0.004
    drift_g_per_min: float = 0.0
    drifted_g: float = 0.0
    cable: bool = True
    tare_stuck: bool = False
    garbage: bool = False
    unit: str = "g"
    clock: Callable[[], float] = time.monotonic
    chance: random.Random = field(default_factory=random.Random)
    _at: float | None = None

    def tick(self) -> None:
        """Let the display follow the pan up to now."""
        now = self.clock()
        passed = 0.0 if self._at is None else now - self._at
        self._at = now
        self.drifted_g += self.drift_g_per_min * passed / 60
        toward = 1.0 if self.settle_s <= 0 else 1 - 2.718281828 ** (-passed / self.settle_s)
        self.shown_g += (self.on_pan_g - self.shown_g) * toward

    def put(self, grams: float) -> None:
        """Put something on, or take it off where negative; a pan does not go below empty."""
        self.on_pan_g = max(0.0, self.on_pan_g + grams)

    def tare(self) -> None:
        """Zero the display, unless the key is stuck."""
        if not self.tare_stuck:
            self.tare_g = self.on_pan_g
            self.drifted_g = 0.0

    def line(self) -> str:
        """One line of the plain protocol."""
        self.tick()
        if self.garbage:
            return "".join(self.chance.choice("#?~!%&*") for _ in range(12))
        if self.on_pan_g > CAPACITY_G:
            return "weight=over; full"
        steady = abs(self.on_pan_g - self.shown_g) < STEADY_WITHIN_G and self.noise_g < 0.05
        flicker = self.chance.gauss(0, self.noise_g) if self.noise_g else 0.0
        shown = self.shown_g - self.tare_g + self.drifted_g + flicker
        word = "steady" if steady else "moving"
        return f"weight={shown:.{READABILITY_DIGITS}f} {self.unit}; {word}"


@dataclass
class Probe:
    """A thermometer in a pot on the heat: its probe follows the pot, the pot follows the heat. Degrees C, times s."""

    heat_c: float = 22.0
    pot_c: float = 22.0
    shown_c: float = 22.0
    pot_follows_s: float = 40.0
    cable: bool = True
    clock: Callable[[], float] = time.monotonic
    _at: float | None = None

    def tick(self) -> None:
        """Let pot and probe follow up to now."""
        now = self.clock()
        passed = 0.0 if self._at is None else now - self._at
        self._at = now
        self.pot_c += (self.heat_c - self.pot_c) * (1 - 2.718281828 ** (-passed / self.pot_follows_s))
        self.shown_c += (self.pot_c - self.shown_c) * (1 - 2.718281828 ** (-passed / 1.5))

    def line(self) -> str:
        """One line of the plain protocol."""
        self.tick()
        return f"temperature={self.shown_c:.1f} C"


@dataclass
class Electrode:
    """A pH meter in a vessel: its electrode follows what is in it. Times s."""

    ph: float = 7.0
    shown: float = 7.0
    follows_s: float = 2.0
    cable: bool = True
    clock: Callable[[], float] = time.monotonic
    _at: float | None = None

    def line(self) -> str:
        """One line of the plain protocol."""
        now = self.clock()
        passed = 0.0 if self._at is None else now - self._at
        self._at = now
        self.shown += (self.ph - self.shown) * (1 - 2.718281828 ** (-passed / self.follows_s))
        return f"ph={self.shown:.2f}"


class ElectrodeAsked(BaseModel):
    """What the page changes of the pH meter; `at_once` shows it without a wait."""

    ph: float | None = Field(None, ge=0, le=14, allow_inf_nan=False)
    at_once: bool = False
    cable: bool | None = None


class ProbeAsked(BaseModel):
    """What the page changes of the thermometer; `at_once_c` sets the pot there."""

    heat_c: float | None = Field(None, ge=0, le=300, allow_inf_nan=False)
    at_once_c: float | None = Field(None, ge=-20, le=300, allow_inf_nan=False)
    cable: bool | None = None


class Says(Protocol):
    """What a wire needs of a device: its line, and whether its cable is in."""

    cable: bool

    def line(self) -> str: ...


class PanAsked(BaseModel):
    """What the page changes; what is left out stays."""

    put_g: float | None = Field(None, ge=-5_000, le=5_000, allow_inf_nan=False)
    tare: bool = False
    noise_g: float | None = Field(None, ge=0, le=5, allow_inf_nan=False)
    settle_s: float | None = Field(None, ge=0, le=20, allow_inf_nan=False)
    drift_g_per_min: float | None = Field(None, ge=-50, le=50, allow_inf_nan=False)
    cable: bool | None = None
    tare_stuck: bool | None = None
    garbage: bool | None = None
    unit: Literal["g", "kg", "oz", "lb"] | None = None


class Wire:
    """The socket: every reader gets every line; a pulled cable cuts all of them."""

    def __init__(self, pan: Says) -> None:
        self.pan = pan
        self._server: asyncio.Server | None = None
        self._writers: set[asyncio.StreamWriter] = set()
        self._readers: set[asyncio.Task[None]] = set()
        self.port = 0

    async def start(self, port: int) -> None:
        """Listen on loopback; port 0 takes a free one."""
        self._server = await asyncio.start_server(self._reader, "127.0.0.1", port)
        self.port = self._server.sockets[0].getsockname()[1]

    async def stop(self) -> None:
        """Let every reader go."""
        if self._server:
            self._server.close()
        self.cut()
        await asyncio.gather(*self._readers, return_exceptions=True)

    def cut(self) -> None:
        """Pull the cable."""
        for writer in list(self._writers):
            writer.close()

    async def _reader(self, reader: asyncio.StreamReader, writer: asyncio.StreamWriter) -> None:
        if not self.pan.cable:
            writer.close()
            return
        task = asyncio.current_task()
        assert task is not None
        self._readers.add(task)
        task.add_done_callback(self._readers.discard)
        self._writers.add(writer)
        commands = asyncio.create_task(self._commands(reader))
        try:
            while self.pan.cable and not writer.is_closing():
                writer.write(self.pan.line().encode() + b"\r\n")
                await writer.drain()
                await asyncio.sleep(1 / LINES_PER_SECOND)
        except (ConnectionError, OSError):
            pass
        finally:
            commands.cancel()
            self._writers.discard(writer)
            with contextlib.suppress(ConnectionError, OSError):
                writer.close()

    async def _commands(self, reader: asyncio.StreamReader) -> None:
        while line := await reader.readline():
            if line.strip() == b"tare" and isinstance(self.pan, Pan):
                self.pan.tare()


def create_app(
    pan: Pan,
    wire: Wire,
    wire_port: int,
    probe: Probe | None = None,
    warm_port: int | None = None,
    ph_port: int | None = None,
) -> FastAPI:
    """The stand-in's page and its addresses; with thermometer and pH meter beside where `warm_port`, `ph_port` say."""
    electrode = Electrode()
    sour = Wire(electrode)
    probe = probe or Probe()
    warm = Wire(probe)

    @contextlib.asynccontextmanager
    async def lifespan(_: FastAPI) -> AsyncIterator[None]:
        await wire.start(wire_port)
        if warm_port is not None:
            await warm.start(warm_port)
        if ph_port is not None:
            await sour.start(ph_port)
        yield
        await wire.stop()
        await warm.stop()
        await sour.stop()

    app = FastAPI(title="Stand-in balance", docs_url=None, redoc_url=None, openapi_url=None, lifespan=lifespan)

    @app.get("/", response_class=HTMLResponse)
    def page() -> str:
        return (
            PAGE.read_text()
            .replace("{port}", str(wire.port))
            .replace("{warm}", str(warm.port))
            .replace("{ph}", str(sour.port))
        )

    @app.get("/pan")
    def shown() -> dict[str, object]:
        return {
            "line": pan.line() if pan.cable else "",
            "on_pan_g": pan.on_pan_g,
            "cable": pan.cable,
            "noise_g": pan.noise_g,
            "settle_s": pan.settle_s,
            "drift_g_per_min": pan.drift_g_per_min,
            "tare_stuck": pan.tare_stuck,
            "garbage": pan.garbage,
            "unit": pan.unit,
            "capacity_g": CAPACITY_G,
        }

    @app.post("/pan")
    async def change(asked: PanAsked) -> dict[str, object]:
        pan.tick()
        if asked.put_g is not None:
            pan.put(asked.put_g)
        if asked.tare:
            pan.tare()
        for name in ("noise_g", "settle_s", "drift_g_per_min", "cable", "tare_stuck", "garbage", "unit"):
            value = getattr(asked, name)
            if value is not None:
                setattr(pan, name, value)
        if not pan.cable:
            wire.cut()
        return shown()

    @app.get("/probe")
    def degrees() -> dict[str, object]:
        return {"line": probe.line() if probe.cable else "", "heat_c": probe.heat_c, "cable": probe.cable}

    @app.post("/probe")
    async def warm_up(asked: ProbeAsked) -> dict[str, object]:
        probe.tick()
        if asked.heat_c is not None:
            probe.heat_c = asked.heat_c
        if asked.at_once_c is not None:
            probe.heat_c = probe.pot_c = probe.shown_c = asked.at_once_c
        if asked.cable is not None:
            probe.cable = asked.cable
            if not asked.cable:
                warm.cut()
        return degrees()

    @app.get("/electrode")
    def acidity() -> dict[str, object]:
        return {"line": electrode.line() if electrode.cable else "", "ph": electrode.ph, "cable": electrode.cable}

    @app.post("/electrode")
    async def drip(asked: ElectrodeAsked) -> dict[str, object]:
        if asked.ph is not None:
            electrode.ph = asked.ph
        if asked.at_once:
            electrode.shown = electrode.ph
        if asked.cable is not None:
            electrode.cable = asked.cable
            if not asked.cable:
                sour.cut()
        return acidity()

    return app


def run(page_port: int, wire_port: int, warm_port: int, ph_port: int) -> None:
    """Serve the stand-in until it is stopped."""
    import uvicorn

    pan = Pan()
    app = create_app(pan, Wire(pan), wire_port, Probe(), warm_port, ph_port)
    uvicorn.run(app, host="127.0.0.1", port=page_port, log_level="warning")
