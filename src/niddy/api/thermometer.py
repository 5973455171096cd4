"""The thermometer: its live reading to every window that looks."""

from __future__ import annotations

from niddy.api.hub import Device
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.thermometer import ThermometerReading
from niddy.devices.thermometer import ThermometerPort

router = Router(prefix="/api/thermometer", tags=["thermometer"], responses=REFUSALS)
THERMOMETER = Device(
    "thermometer", "thermometer", "thermometer_port", "temperature", ThermometerPort, ThermometerReading
)
THERMOMETER.add_live(router)
