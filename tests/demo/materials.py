"""The demo's tins, bottles and boxes, and its bench."""

from __future__ import annotations

from sqlalchemy.orm import Session

from niddy.core.plan import Tooth
from niddy.studio import workshop

STUDIO_NAME = "Saltmarsh Bench"


PIGMENTS = (
    # key, code, days ago, grams, price per kg, weighed loose density
    ("bone-black", "BB-3", 210, 900.0, "14.50", 0.52),
    ("cerulean-blue", "CE-1", 150, 400.0, "148.00", None),
    ("viridian", "VI-2", 150, 350.0, "96.00", None),
    ("caput-mortuum", "CM-1", 320, 700.0, "19.80", None),
    ("nickel-titanate-yellow", "NT-1", 120, 500.0, "42.00", None),
    ("pyrrole-red", "PR-4", 60, 250.0, "118.00", 0.28),
    ("quinacridone-magenta", "QM-2", 60, 180.0, "164.00", None),
    ("cobalt-green", "CG-1", 90, 300.0, "132.00", None),
    ("titanate-buff", "TB-1", 90, 450.0, "38.50", None),
    ("lead-antimonate-yellow", "LA-1", 45, 220.0, "176.00", None),
)


OILS = (
    ("poppy-refined", "P-7", 80, 900.0, "31.00", 0.0215),
    ("linseed-cold-pressed", "L-12", 130, 1900.0, "17.50", None),
    ("walnut-refined", "W-3", 95, 700.0, "26.00", None),
)


OTHERS = (
    ("additive", "aluminium-stearate", "AS-1", 260, 250.0, "22.00"),
    ("additive", "hydrogenated-castor-oil", "HC-1", 200, 120.0, "34.00"),
    ("additive", "beeswax", "BW-2", 300, 180.0, "28.00"),
    ("tube", "20 ml tube", "T20-1", 110, 60.0, "0.34"),
    ("tube", "40 ml tube", "T40-2", 110, 85.0, "0.41"),
    ("jar", "100 ml jar", "J100-1", 140, 12.0, "1.15"),
)

WAXES = (
    ("beeswax", "WX-1", 190, 1400.0, "21.00"),
    ("microcrystalline-hard", "WX-2", 190, 800.0, "12.50"),
    ("carnauba", "WX-3", 190, 350.0, "24.00"),
    ("soy-wax", "WX-4", 95, 600.0, "8.40"),
    ("candelilla", "WX-5", 95, 250.0, "27.00"),
)


def furnish_more(session: Session) -> None:
    """Measures of the tubes, a second slab and muller, the studio's name."""
    kept = workshop.workshop(session)
    for tube, diameter, length, headspace, tare in zip(
        kept.tube_types,
        (20.0, 25.0, 27.0, 28.5),
        (90.0, 110.0, 118.0, 125.0),
        (26.0, 28.0, 30.0, 31.0),
        (6.4, 9.1, 10.5, 11.8),
        strict=True,
    ):
        workshop.keep_tube_type(session, tube.id, tube.name, tube.usable_ml, diameter, length, headspace, tare, 3)
    workshop.keep_slab(session, None, "Marble offcut 20 x 25 cm", 500.0, Tooth.WORN, None)
    workshop.keep_muller(session, None, "Small muller", 45.0, Tooth.FAIR)
    chosen = kept.settings
    workshop.change_settings(
        session,
        workshop.Settings(
            STUDIO_NAME,
            chosen.spoon_set,
            chosen.default_reduced_pvc,
            chosen.default_slab_id,
            chosen.default_muller_id,
            chosen.mass_unit,
            chosen.currency,
        ),
    )
