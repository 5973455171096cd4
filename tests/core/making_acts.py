"""Acts of a run as a log has them, from as much as a test says of each."""

from datetime import datetime
from typing import Any, get_args
from uuid import UUID

from niddy.core.acting import Logged
from niddy.core.making import RunAct, RunActFacts, RunLogged
from niddy.core.making.acts import AnyRunAct

MODELS: dict[str, type[RunAct]] = {
    get_args(model.model_fields["kind"].annotation)[0]: model for model in get_args(get_args(AnyRunAct)[0])
}
WHOLE: dict[str, dict[str, Any]] = {
    "added": {"ingredient": "soda", "measure": {"amount": 1.0}},
    "skip": {"why": "no time"},
    "finish": {"g": 1.0},
    "handed_over": {"of": UUID(int=1)},
    "colour": {"srgb": "#804020"},
    "note": {"text": "x"},
    "tried": {"takes": "well"},
    "strength": {"white_parts": 9.0, "reference_white_parts": 10.0},
    "spot": {"tried_with": "acid", "seen": "fizzed"},
    "in_medium": {"text": "beads up"},
    "light_verdict": {"verdict": "holds"},
    "density": {"powder_g": 10.0, "full_g": 62.4, "with_powder_g": 69.98},
    "waste": {"ml": 10.0},
    "to_stock": {"g": 1.0, "code": "X", "taken_for": "mineral", "masstone_srgb": "#804020", "hazards": []},
}


def logged(n: int, kind: str, at: datetime, **what: Any) -> RunLogged:
    """The act number `n` of a log: `g` is what went in or lay on the plate; of all words it takes those it has."""
    model, strikes = MODELS[kind], what.get("strikes")
    facts = {name: what[name] for name in ("completes", "percent", "fading", "step") if name in what}
    if kind in ("added", "weighed", "density"):
        facts["g"] = what.get("g")
    if kind == "sieved":
        what["charge_g"] = what.get("g")
        what["fractions"] = [
            {"aperture_um": one.aperture_um, "retained_g": one.retained_g} for one in what["fractions"]
        ]
    said = {**WHOLE.get(kind, {}), **{name: value for name, value in what.items() if value is not None}}
    said = {name: value for name, value in said.items() if name in model.model_fields}
    act = model.model_validate({**said, "id": UUID(int=n), "kind": kind, "made_at": at})
    return Logged(act.id, n, act, RunActFacts(**facts), strikes)
