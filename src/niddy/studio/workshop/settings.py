"""The studio's own settings, with sensible defaults, and how its backups stand."""

from __future__ import annotations

import base64
import re
from dataclasses import dataclass
from datetime import datetime
from decimal import Decimal

from sqlalchemy import select
from sqlalchemy.orm import Session

from niddy.core.balance import GRAMS_PER, PLAIN_TARE
from niddy.core.errors import Refused, reduced_pvc, within
from niddy.core.measures import SPOON_ML, UNITS, Unit, spoons_of
from niddy.core.mixing.paints import Shine
from niddy.core.plan import Tool
from niddy.core.telling import Measuring, Small
from niddy.db.workshop import Muller, Slab, StudioSettings
from niddy.devices.patterns import compiled

BALANCE_PORT = re.compile(
    r"/dev/(?:tty(?:S|USB|ACM|AMA|XRUSB)\d{1,3}|rfcomm\d{1,3}|cu\.[\w-]{1,60}|serial/by-(?:id|path)/[\w:.+-]{1,120})"
    r"|COM\d{1,3}|socket://(?:127\.0\.0\.1|localhost):\d{2,5}"
)
"""Real serial ports, or a socket of this machine: nothing else that a path could name."""

BALANCE_PORT_ACCEPTED = "a serial port such as /dev/ttyUSB0 or COM3, or socket://127.0.0.1:port on this machine"


@dataclass(frozen=True, slots=True)
class BackupsSeen:
    """How backups stand; nothing of it where the database is somebody else's and has tools of its own."""

    kept_here: bool
    last_at: datetime | None = None
    too_old: bool = False
    count: int = 0
    bytes: int = 0
    folder: str = ""
    trouble: str = ""


@dataclass(frozen=True, slots=True)
class Settings:
    """The studio's own settings."""

    name: str
    spoon_set: str
    default_reduced_pvc: float
    default_slab_id: int | None
    default_muller_id: int | None
    mass_unit: str
    currency: str
    scrape_interval_min: float = 3.0
    scrape_sound: bool = True
    balance_port: str = ""
    balance_baud: int = 9600
    balance_pattern: str = ""
    balance_unit: str = "g"
    balance_tare: str = PLAIN_TARE
    measuring: Measuring = Measuring.SCALE
    small: Small = Small.DROPS
    tool: Tool = Tool.MULLER
    needle_on_beeswax_dmm: float | None = None
    thermometer_port: str = ""
    ph_port: str = ""
    initials_on_labels: bool = False
    spoons_missing: tuple[Unit, ...] = ()


def own(session: Session) -> StudioSettings:
    """The studio's settings as the record has them; asked once a session, since most screens want them many times."""
    row: StudioSettings | None = session.info.get("settings")
    if row is None or row not in session:
        row = session.info["settings"] = session.get_one(StudioSettings, 1)
    return row


def know(session: Session, row: StudioSettings) -> None:
    """The settings were read along with something else in this session: `own` need not ask again."""
    session.info.setdefault("settings", row)


def settings(session: Session) -> Settings:
    """The studio's settings."""
    row = own(session)
    return Settings(
        row.name,
        row.spoon_set,
        row.default_reduced_pvc,
        row.default_slab_id,
        row.default_muller_id,
        row.mass_unit,
        row.currency,
        row.scrape_interval_min,
        row.scrape_sound,
        row.balance_port,
        row.balance_baud,
        row.balance_pattern,
        row.balance_unit,
        row.balance_tare,
        Measuring(row.measuring),
        Small(row.small),
        Tool(row.tool),
        row.needle_on_beeswax_dmm,
        row.thermometer_port,
        row.ph_port,
        row.initials_on_labels,
        tuple(Unit(unit) for unit in row.spoons_missing),
    )


def mark(session: Session) -> bytes | None:
    """The studio's own mark as PNG; None where it has none."""
    kept = own(session).mark_png
    return base64.b64decode(kept) if kept else None


def has_mark(session: Session) -> bool:
    """Whether the studio has a mark of its own."""
    return bool(session.scalar(select(StudioSettings.mark_png.is_not(None))))


def keep_mark(session: Session, png: bytes | None) -> None:
    """Keep a mark, or do without one."""
    own(session).mark_png = base64.b64encode(png).decode() if png else None
    session.flush()


def calendar_secret(session: Session) -> str | None:
    """The secret in the address of the calendar's feed; None before one was made."""
    return own(session).calendar_secret


def keep_calendar_secret(session: Session, secret: str) -> None:
    """Keep a new secret: the old address is none any more."""
    own(session).calendar_secret = secret
    session.flush()


@dataclass(frozen=True, slots=True)
class PractisedEye:
    """The eye of a maker that the slab uses, as practice found it: bias, how surely, and spread, in reduced PVC."""

    maker: str
    bias: float
    bias_sd: float
    sd: float


def practised_eye(session: Session) -> PractisedEye | None:
    """The eye that the slab uses; None where it uses nobody's."""
    row = own(session)
    if row.eye_maker is None or row.eye_bias is None or row.eye_bias_sd is None or row.eye_sd is None:
        return None
    return PractisedEye(row.eye_maker, row.eye_bias, row.eye_bias_sd, row.eye_sd)


def white_of_tints(session: Session) -> int | None:
    """The paint that is the studio's white: what tints are let down with; None before one was chosen."""
    return own(session).white_paint_id


def shine_of_readings(session: Session) -> Shine:
    """What the studio's readings of colours have of the surface's shine."""
    return Shine(own(session).shine)


def use_white(session: Session, white_paint_id: int | None, shine: Shine) -> None:
    """Let tints be let down with this white from now on, and colours be read so."""
    row = own(session)
    row.white_paint_id, row.shine = white_paint_id, shine
    session.flush()


def use_eye(session: Session, eye: PractisedEye | None) -> None:
    """Use this eye at the slab from now on, or nobody's."""
    row = own(session)
    row.eye_maker, row.eye_bias, row.eye_bias_sd, row.eye_sd = (
        (eye.maker, eye.bias, eye.bias_sd, eye.sd) if eye is not None else (None, None, None, None)
    )
    session.flush()


def change_settings(session: Session, wanted: Settings) -> Settings:
    """Replace the settings. Raises Refused for a target off the scale or a slab or muller not kept here."""
    reduced_pvc("default_reduced_pvc", wanted.default_reduced_pvc)
    if wanted.default_slab_id is not None and session.get(Slab, wanted.default_slab_id) is None:
        raise Refused("default_slab_id", "no such slab", "a slab of this studio")
    if wanted.default_muller_id is not None and session.get(Muller, wanted.default_muller_id) is None:
        raise Refused("default_muller_id", "no such muller", "a muller of this studio")
    if not set(wanted.spoons_missing) <= set(SPOON_ML):
        raise Refused("spoons_missing", "that is not a spoon", ", ".join(SPOON_ML))
    us = wanted.spoon_set == "us"
    if not any(UNITS[unit].ml and not UNITS[unit].rare for unit in spoons_of(us, wanted.spoons_missing)):
        raise Refused("spoons_missing", "no spoon is left to measure with", "at least one that is at hand")
    within("scrape_interval_min", wanted.scrape_interval_min, 0, 60, "min")
    if wanted.balance_pattern:
        compiled(wanted.balance_pattern)
    if wanted.balance_unit not in GRAMS_PER:
        raise Refused("balance_unit", f"'{wanted.balance_unit}'", ", ".join(GRAMS_PER))
    if wanted.balance_port and not BALANCE_PORT.fullmatch(wanted.balance_port):
        raise Refused("balance_port", "no such kind of port", BALANCE_PORT_ACCEPTED)
    if not re.fullmatch(r"[ -~]{1,40}", wanted.balance_tare):
        raise Refused("balance_tare", "characters no balance takes", "1 to 40 plain letters, figures and signs")
    row = own(session)
    row.scrape_interval_min, row.scrape_sound = wanted.scrape_interval_min, wanted.scrape_sound
    row.initials_on_labels = wanted.initials_on_labels
    row.balance_port, row.balance_baud, row.balance_pattern, row.balance_unit, row.balance_tare = (
        wanted.balance_port,
        wanted.balance_baud,
        wanted.balance_pattern,
        wanted.balance_unit,
        wanted.balance_tare,
    )
    row.name, row.spoon_set, row.default_reduced_pvc = (wanted.name, wanted.spoon_set, wanted.default_reduced_pvc)
    row.default_slab_id, row.default_muller_id = wanted.default_slab_id, wanted.default_muller_id
    row.spoons_missing = [unit.value for unit in wanted.spoons_missing]
    row.mass_unit, row.currency = wanted.mass_unit, wanted.currency
    row.measuring, row.small, row.tool = wanted.measuring, wanted.small, wanted.tool
    row.needle_on_beeswax_dmm = wanted.needle_on_beeswax_dmm
    row.thermometer_port, row.ph_port = wanted.thermometer_port.strip(), wanted.ph_port.strip()
    session.flush()
    return settings(session)


def bought_tube_price(session: Session) -> Decimal | None:
    """What a bought tube of a neutral costs, where the studio said so."""
    return own(session).bought_tube_price


def set_bought_tube_price(session: Session, price: Decimal | None) -> None:
    """Keep what a bought tube of a neutral costs; None takes it back."""
    own(session).bought_tube_price = price
    session.flush()
