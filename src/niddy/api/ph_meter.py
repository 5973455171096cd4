"""The pH meter: its live reading to every window that looks."""

from __future__ import annotations

from niddy.api.hub import Device
from niddy.api.problems import REFUSALS
from niddy.api.router import Router
from niddy.core.ph_meter import PhMeterReading
from niddy.devices.ph_meter import PhMeterPort

router = Router(prefix="/api/ph-meter", tags=["ph_meter"], responses=REFUSALS)
PH_METER = Device("pH meter", "ph_meter", "ph_port", "ph", PhMeterPort, PhMeterReading)
PH_METER.add_live(router)
