"""The pH meter's port."""

from __future__ import annotations

from niddy.core.ph_meter import PhMeterReading, gone, read_line
from niddy.devices.line_port import ReadingPort


class PhMeterPort(ReadingPort[PhMeterReading]):
    """Reads a pH meter while it is open."""

    what = "pH meter"
    read = staticmethod(read_line)
    gone = staticmethod(gone)
