"""The demo's processes: a basic copper carbonate in two versions, and a made-up plant lake on alum."""

from __future__ import annotations

from datetime import datetime, timedelta

from sqlalchemy.orm import Session

from niddy.core.making import Does, StepKind
from niddy.studio import making
from niddy.studio.making import IngredientAsked, ProcessAsked, ProcessVersionAsked, StepAsked
from tests.demo.making_runs import runs

_SALTS = [
    IngredientAsked(name="Copper sulfate", parts_g=50.0, role=Does.SALT, formula="CuSO4.5H2O", solution_pct=15.0),
    IngredientAsked(
        name="Soda, anhydrous", parts_g=25.0, role=Does.PRECIPITANT, formula="Na2CO3", purity=0.99, solution_pct=15.0
    ),
]
_OUT = ["Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"]


def _afterwards(washes: int) -> list[StepAsked]:
    return [
        StepAsked(kind=StepKind.SETTLE, says="Let it settle overnight", minutes=720.0),
        StepAsked(kind=StepKind.WASH, says="Wash it", how="stir well, settle, pour off", washes=washes, wash_ml=300.0),
        StepAsked(kind=StepKind.DRY, says="Dry it on a plate", how="out of the sun; weigh it a day apart"),
        StepAsked(kind=StepKind.CRUSH, says="Crush it in the mortar", how="mask on"),
        StepAsked(kind=StepKind.SIEVE, says="Sieve it", mesh_um=125.0),
    ]


def _green(washes: int) -> list[StepAsked]:
    return [
        StepAsked(kind=StepKind.DISSOLVE, says="Dissolve each by itself", how="into cool water, stirring"),
        StepAsked(
            kind=StepKind.ADD,
            says="Soda into the copper, slowly",
            how="it foams: a spoon at a time",
            ingredient=1,
            minutes=30.0,
        ),
        StepAsked(kind=StepKind.ACIDITY, says="Keep the pH in", ingredient=1, ph_low=6.8, ph_high=8.2),
        StepAsked(
            kind=StepKind.HOLD,
            says="Let it ripen",
            how="it turns from blue to green",
            minutes=90.0,
            temperature_low_c=18.0,
            temperature_high_c=30.0,
        ),
        *_afterwards(washes),
    ]


def processes(session: Session, now: datetime) -> None:
    """Load them."""
    began = now - timedelta(days=210)
    copper = making.add(
        session,
        began,
        ProcessAsked(
            name="Estuary green",
            note="a basic copper carbonate",
            ingredients=_SALTS,
            products=_OUT,
            wanted="Cu2(OH)2CO3",
            steps=_green(3),
        ),
    )
    making.add_version(
        session,
        began + timedelta(days=70),
        copper,
        ProcessVersionAsked(
            ingredients=_SALTS,
            products=_OUT,
            wanted="Cu2(OH)2CO3",
            steps=_green(5),
            why="five washes: three left it gritty in oil",
        ),
    )
    lake = making.add(
        session,
        now - timedelta(days=95),
        ProcessAsked(
            name="Marshwort lake",
            note="a plant of the estuary, on alum",
            ingredients=[
                IngredientAsked(name="Marshwort flowers, dried", parts_g=50.0, role=Does.DYE),
                IngredientAsked(
                    name="Potash alum", parts_g=20.0, role=Does.SALT, formula="KAl(SO4)2.12H2O", solution_pct=10.0
                ),
                IngredientAsked(
                    name="Soda, anhydrous",
                    parts_g=6.2,
                    role=Does.PRECIPITANT,
                    formula="Na2CO3",
                    purity=0.99,
                    solution_pct=10.0,
                ),
            ],
            steps=[
                StepAsked(
                    kind=StepKind.HOLD,
                    says="Draw the dye",
                    how="hot, never boiling; strain it",
                    ingredient=0,
                    minutes=60.0,
                    temperature_low_c=60.0,
                    temperature_high_c=80.0,
                ),
                StepAsked(kind=StepKind.ADD, says="Alum into the dye, warm", ingredient=1),
                StepAsked(kind=StepKind.ADD, says="Soda in slowly", how="it foams up", ingredient=2, minutes=20.0),
                StepAsked(kind=StepKind.ACIDITY, says="Bring the pH in", ingredient=2, ph_low=6.5, ph_high=7.5),
                *_afterwards(4),
            ],
        ),
    )
    runs(session, now, copper, lake)
