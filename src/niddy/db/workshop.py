"""The workshop: slabs, mullers, tube types and the studio's own settings."""

from __future__ import annotations

from decimal import Decimal

from sqlalchemy import CheckConstraint, ForeignKey, Numeric
from sqlalchemy.dialects.postgresql import JSONB
from sqlalchemy.orm import Mapped, mapped_column

from niddy.db.base import Base, Id


class Slab(Base):
    """A grinding slab: its area, how its frosting bites, and its film where the studio knows it."""

    __tablename__ = "slab"
    __table_args__ = (
        CheckConstraint("area_cm2 between 1 and 100000", name="area"),
        CheckConstraint("film_mm between 0.01 and 20", name="film"),
    )

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    area_cm2: Mapped[float]
    tooth: Mapped[str]
    film_mm: Mapped[float | None]
    retired: Mapped[bool] = mapped_column(default=False)


class Muller(Base):
    """A muller: the diameter of its face and how it bites."""

    __tablename__ = "muller"
    __table_args__ = (CheckConstraint("face_mm between 1 and 500", name="face"),)

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    face_mm: Mapped[float]
    tooth: Mapped[str]
    retired: Mapped[bool] = mapped_column(default=False)


class TubeType(Base):
    """A kind of tube and the volume it takes to its mark; its measures in mm where that follows from them."""

    __tablename__ = "tube_type"
    __table_args__ = (CheckConstraint("usable_ml between 0.1 and 20000", name="usable"),)

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(unique=True)
    usable_ml: Mapped[float]
    diameter_mm: Mapped[float | None]
    length_mm: Mapped[float | None]
    headspace_mm: Mapped[float | None]
    tare_g: Mapped[float | None]
    folds: Mapped[int | None]
    retired: Mapped[bool] = mapped_column(default=False)


class OwnMeasure(Base):
    """A measure of the studio's own: a straw, a scoop; its place among the units, and what it holds as it was told."""

    __tablename__ = "own_measure"
    __table_args__ = (
        CheckConstraint("holds in ('ml', 'spoons', 'drops', 'weighed', 'unknown')", name="holds"),
        CheckConstraint("powder or liquid", name="measures"),
    )

    id: Mapped[Id]
    place: Mapped[str] = mapped_column(unique=True)
    name: Mapped[str] = mapped_column(unique=True)
    powder: Mapped[bool]
    liquid: Mapped[bool]
    holds: Mapped[str]
    amount: Mapped[float | None]
    spoon: Mapped[str | None]


class StudioSettings(Base):
    """The studio's own settings; one row."""

    __tablename__ = "studio_settings"
    __table_args__ = (
        CheckConstraint("id = 1", name="one_row"),
        CheckConstraint("measuring in ('scale', 'spoons', 'eye')", name="measuring"),
        CheckConstraint("needle_on_beeswax_dmm between 0.1 and 400", name="needle"),
        CheckConstraint("num_nonnulls(eye_maker, eye_bias, eye_bias_sd, eye_sd) in (0, 4)", name="eye"),
        CheckConstraint("small in ('drops', 'ml')", name="small"),
        CheckConstraint("shine in ('with', 'without', 'off')", name="shine"),
        CheckConstraint("tool in ('muller', 'knife', 'jar', 'glass')", name="tool"),
    )

    id: Mapped[Id]
    name: Mapped[str] = mapped_column(default="")
    spoon_set: Mapped[str] = mapped_column(default="metric")
    spoons_missing: Mapped[list[str]] = mapped_column(JSONB, default=list, server_default="[]")
    default_reduced_pvc: Mapped[float] = mapped_column(default=0.86)
    default_slab_id: Mapped[int | None] = mapped_column(ForeignKey("slab.id"))
    default_muller_id: Mapped[int | None] = mapped_column(ForeignKey("muller.id"))
    mass_unit: Mapped[str] = mapped_column(default="g")
    currency: Mapped[str] = mapped_column(default="EUR")
    bought_tube_price: Mapped[Decimal | None] = mapped_column(Numeric(12, 4))
    scrape_interval_min: Mapped[float] = mapped_column(default=3.0, server_default="3")
    scrape_sound: Mapped[bool] = mapped_column(default=True, server_default="true")
    measuring: Mapped[str] = mapped_column(default="scale", server_default="scale")
    small: Mapped[str] = mapped_column(default="drops", server_default="drops")
    tool: Mapped[str] = mapped_column(default="muller", server_default="muller")
    needle_on_beeswax_dmm: Mapped[float | None]
    thermometer_port: Mapped[str] = mapped_column(default="", server_default="")
    eye_maker: Mapped[str | None]
    eye_bias: Mapped[float | None]
    eye_bias_sd: Mapped[float | None]
    eye_sd: Mapped[float | None]
    calendar_secret: Mapped[str | None]
    mark_png: Mapped[str | None] = mapped_column(deferred=True)
    """The mark on labels, as PNG in base64: text, so that it travels with the settings."""
    initials_on_labels: Mapped[bool] = mapped_column(default=False, server_default="false")
    ph_port: Mapped[str] = mapped_column(default="", server_default="")
    white_paint_id: Mapped[int | None] = mapped_column(ForeignKey("mixing_paint.id"))
    shine: Mapped[str] = mapped_column(default="without", server_default="without")
    balance_port: Mapped[str] = mapped_column(default="", server_default="")
    balance_baud: Mapped[int] = mapped_column(default=9600, server_default="9600")
    balance_pattern: Mapped[str] = mapped_column(default="", server_default="")
    balance_unit: Mapped[str] = mapped_column(default="g", server_default="g")
    balance_tare: Mapped[str] = mapped_column(default="tare", server_default="tare")
