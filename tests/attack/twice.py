"""The same act twice at the same moment, in every room: both answers alike, and the log has it once."""

from __future__ import annotations

import random
from collections.abc import Callable, Iterator
from concurrent.futures import ThreadPoolExecutor
from dataclasses import dataclass, field
from io import BytesIO
from threading import Barrier
from typing import Any
from uuid import UUID

import httpx
from PIL import Image

Body = dict[str, Any]
OIL, BLACK = "library-linseed-refined", "library-bone-black"
PLAN = {
    "lines": [{"pigment_key": "bone-black", "parts": 1}],
    "oil": {"oil_key": "linseed-refined"},
    "reduced_pvc": 0.86,
    "pigment_g": 100,
    "additives": [{"additive_key": "aluminium-stearate", "dose_pct": 2.0}],
}
SEEN_DRY = {"line": "even", "cover": "even", "glide": "glides", "hands": "clean", "breaks": "holds", "crumbs": "none"}
SEEN_WET = {"even": "even", "opens": "opens", "bleeds": "no", "streaks": "none"}


@dataclass
class Twice:
    """What pairs came to: how many were sent, those whose answers differed, and ids a log has other than once."""

    pairs: int = 0
    kinds: set[str] = field(default_factory=set)
    differ: list[str] = field(default_factory=list)
    refused: list[str] = field(default_factory=list)
    counted: list[str] = field(default_factory=list)


Last = dict[str, str]
Entry = Body | Callable[[Last], Body]
"""A body, or what makes one of the ids of the acts before it, by their name."""


class Walk:
    """One job of a room from its beginning to its end, every act sent twice."""

    def __init__(self, client: httpx.Client, luck: random.Random, day: str, outcome: Twice) -> None:
        self.client, self.luck, self.day, self.outcome = client, luck, day, outcome
        self.minute = 0
        self.last: Last = {}
        self.pool = ThreadPoolExecutor(2)

    def new_id(self) -> str:
        """An id as a browser makes one."""
        return str(UUID(int=self.luck.getrandbits(128), version=4))

    def made_at(self) -> str:
        """A minute after the last act."""
        self.minute += 1
        return f"{self.day}T{7 + self.minute // 60:02d}:{self.minute % 60:02d}:00Z"

    def begun(self, path: str, body: Body) -> Any:
        """What began by a request under an id of its own; it is sent twice at once as well."""
        one, other = self.pair("POST", path, json=body)
        self.told(f"begin {path}", one, other)
        if one.status_code >= 300:
            raise ValueError(f"{path}: {one.text[:400]}")
        return one.json()

    def pair(self, method: str, path: str, **what: Any) -> tuple[httpx.Response, httpx.Response]:
        """The same request twice at one moment."""
        barrier = Barrier(2)

        def send(_: int) -> httpx.Response:
            barrier.wait(10)
            return self.client.request(method, path, **what)

        one, other = self.pool.map(send, range(2))
        return one, other

    def told(self, what: str, one: httpx.Response, other: httpx.Response) -> None:
        """Note how two answers compare."""
        self.outcome.pairs += 1
        self.outcome.kinds.add(what)
        alike = one.status_code == other.status_code and _bare(one) == _bare(other)
        if not alike:
            self.outcome.differ.append(
                f"{what}: {one.status_code}, {other.status_code} {one.text[:90]} {other.text[:90]}"
            )
        elif one.status_code >= 300:
            self.outcome.refused.append(f"{what}: {one.status_code} {one.text[:300]}")

    def acts(self, room: str, path: str, *entries: Entry) -> None:
        """One act after the other at a job, each twice; afterwards its log has each once."""
        sent: list[str] = []
        for entry in entries:
            body = dict(entry(self.last) if callable(entry) else entry)
            act_id = self.new_id()
            name = body.pop("as", body.get("kind", ""))
            self.last[name] = act_id
            made_at = body.pop("made_at", None) or self.made_at()
            one, other = self.pair("POST", f"{path}/acts", json={"id": act_id, "made_at": made_at, **body})
            self.told(f"{room} {body['kind']}", one, other)
            if one.status_code < 300:
                sent.append(act_id)
        self.last["count"] = str(len(sent))

    def picture(self, room: str, path: str) -> None:
        """A picture, twice."""
        out = BytesIO()
        Image.new("RGB", (40, 30), "#3f8f6d").save(out, "JPEG")
        act_id = self.new_id()
        one, other = self.pair(
            "POST",
            f"{path}/photos/{act_id}",
            params={"made_at": self.made_at()},
            content=out.getvalue(),
            headers={"content-type": "image/jpeg"},
        )
        self.told(f"{room} photo", one, other)


def _bare(answer: httpx.Response) -> Any:
    """An answer without what moves with the clock."""
    if "json" not in answer.headers.get("content-type", ""):
        return answer.content

    def still(value: Any) -> Any:
        if isinstance(value, dict):
            return {key: still(one) for key, one in value.items() if key not in ("now", "standing_for_s", "ago_s")}
        return [still(one) for one in value] if isinstance(value, list) else value

    return still(answer.json())


def strike(name: str, as_: str = "strike") -> Callable[[Last], Body]:
    """A strike-out of the act made under a name."""
    return lambda last: {"kind": "strike", "strikes": last[name], "as": as_}


def g(amount: float) -> Body:
    """Grams as a measure."""
    return {"measure": {"unit": "g", "amount": amount}}


def at_the_slab(walk: Walk) -> None:
    """A batch: every kind of act a slab has."""
    number = walk.begun("/api/plan/take-to-slab", {"request_id": walk.new_id(), "plan": PLAN})["number"]
    walk.acts(
        "slab",
        f"/api/slab/{number}",
        {"kind": "ready"},
        {"kind": "bottle", "bottle_g": 900.0},
        {"kind": "powder", "source": BLACK, **g(100)},
        {"kind": "oil", "source": OIL, **g(60)},
        {"kind": "look", "stage": "wet_curds"},
        {"kind": "oil", "source": OIL, "as": "more", **g(20)},
        strike("more", "out"),
        strike("out", "back"),
        lambda last: {"kind": "amend", "amends": last["more"], **g(18)},
        {"kind": "additive", "source": "library-beeswax", **g(0.5)},
        {"kind": "leave_out", "source": "library-aluminium-stearate"},
        {"kind": "by_eye", "source": OIL},
        strike("by_eye"),
        {"kind": "phase", "phase": "mull"},
        {"kind": "mull"},
        {"kind": "pause"},
        {"kind": "scrape"},
        {"kind": "mull"},
        {"kind": "fineness", "fineness_um": 20.0},
        {"kind": "load_done", "ended_by": "minutes"},
        {"kind": "gather"},
        {"kind": "look", "stage": "even_paste", "body": "tube", "grit": "none"},
        {"kind": "sample", **g(1)},
        {"kind": "draw_oil", **g(1)},
        {"kind": "choose_way", "way": "leave"},
        {"kind": "note", "text": "twice"},
        {"kind": "finish", "verdict": "right", "leftover_ml": 5.0},
    )
    walk.picture("slab", f"/api/slab/{number}")
    by_eye = walk.begun("/api/plan/take-to-slab", {"request_id": walk.new_id(), "plan": PLAN})["number"]
    walk.acts(
        "slab",
        f"/api/slab/{by_eye}",
        {"kind": "ready"},
        {"kind": "powder", "source": BLACK, **g(100)},
        {"kind": "by_eye", "source": OIL},
        {"kind": "look", "stage": "even_paste", "body": "tube"},
        {"kind": "finish", "verdict": "right"},
        {"kind": "came_out", **g(190)},
    )
    left = walk.begun("/api/plan/take-to-slab", {"request_id": walk.new_id(), "plan": PLAN})["number"]
    walk.acts("slab", f"/api/slab/{left}", {"kind": "ready"}, {"kind": "abandon", "text": "no more"})
    fill = {"id": walk.new_id(), "jar": "jam jar", "volume_ml": 3.0, "reason": "to see"}
    walk.told("tubes fill", *walk.pair("POST", f"/api/tubes/{number}/fill", json=fill))
    reading = {"id": walk.new_id(), "kind": "spread", "made_at": walk.made_at(), "diameters_mm": [42.0, 42.4]}
    walk.told("checks reading", *walk.pair("POST", f"/api/checks/{number}", json=reading))


def at_the_pot(walk: Walk) -> None:
    """A pot of sticks."""
    parts = [{"wax_key": "beeswax", "share": 80}, {"wax_key": "carnauba", "share": 20}]
    base = walk.client.post("/api/sticks/bases", json={"name": f"Twice {walk.new_id()[:6]}", "parts": parts}).json()
    mould = walk.client.post("/api/sticks/moulds", json={"name": f"Twice {walk.new_id()[:6]}", "water_g": 18}).json()[0]
    colour = {
        "pigments": [{"pigment_key": "bone-black"}],
        "moulds": [{"mould_id": mould["id"], "count": 2}],
        "dent_dmm": 30,
    }
    asked = {"base_id": base["shown"]["base_id"], "oil_key": "linseed-refined", "way": "dry", "colours": [colour]}
    for last in ("finish", "abandon"):
        body = {"request_id": walk.new_id(), "set": asked}
        number = walk.begun("/api/sticks/pots", body)["numbers"][0]
        path = f"/api/sticks/{number}"
        if last == "abandon":
            walk.acts("sticks", path, {"kind": "ready"}, {"kind": "abandon", "text": "no more"})
            continue
        walk.acts(
            "sticks",
            path,
            {"kind": "ready"},
            {"kind": "base", "source": "lot-28", **g(1)},
            {"kind": "temperature", "temperature_c": 74.0},
            {"kind": "melted", "temperature_c": 80.0},
            {"kind": "oil", "source": OIL, **g(12.5)},
            strike("oil", "out"),
            strike("out", "back"),
            {"kind": "pigment", "source": BLACK, **g(20)},
            {"kind": "mulled", "parts": [{"grams": 3.0, "source": BLACK}, {"grams": 2.0, "source": OIL}]},
            {"kind": "stir"},
            {"kind": "drop", "by": "needle", "dent_dmm": 30.0},
            {"kind": "note", "text": "twice"},
            {"kind": "pour", "temperature_c": 65.0},
            {"kind": "skin", "temperature_c": 53.0},
            {"kind": "out", "count": 2, "grams": 36.0},
            {"kind": "finish", "place": "box"},
            {"kind": "dry_trial", "seen": SEEN_DRY},
            {"kind": "wet_trial", "tool": "solvent", "seen": SEEN_WET},
            {"kind": "dent", "by": "needle", "dent_dmm": 29.0},
            {"kind": "dried", "what": "skin"},
            {"kind": "verdict", "verdict": "right"},
        )
        walk.picture("sticks", path)


def at_the_can(walk: Walk) -> None:
    """A washing can, and a dish of it."""
    asked = {"request_id": walk.new_id(), "name": "Twice can", "solvent_key": "white-spirit", "solvent_ml": 500.0}
    can = walk.begun("/api/sludge/cans", asked)["number"]
    path = f"/api/sludge/cans/{can}"
    walk.acts(
        "cans",
        path,
        {"kind": "washing", "paints": [{"source": BLACK, "much": "palette"}]},
        strike("washing", "out"),
        strike("out", "back"),
        {"kind": "solvent_in", "solvent_key": "white-spirit", "ml": 100.0},
        {"kind": "height", "clear_mm": 60.0, "total_mm": 96.0},
        {"kind": "pour_off", "ml": 100.0},
        {"kind": "note", "text": "twice"},
    )
    dish = walk.begun(
        "/api/sludge/dishes",
        {"request_id": walk.new_id(), "can_number": can, "method": "evaporate", "tare_g": 100.0, "share": 0.5},
    )["number"]
    walk.acts(
        "dishes",
        f"/api/sludge/dishes/{dish}",
        {"kind": "weigh", "g": 280.0},
        {"kind": "weigh", "g": 240.0, "as": "second"},
        strike("second", "out"),
        strike("out", "back"),
        {"kind": "added", "g": 245.0},
        {"kind": "squeezed", "g": 230.0},
        {"kind": "strained", "mesh_um": 150.0},
        {"kind": "note", "text": "twice"},
        {"kind": "to_stock", "g": 100.0, "code": walk.new_id()[:8], "wet": True, "anyway": True},
    )
    other = walk.begun(
        "/api/sludge/dishes",
        {"request_id": walk.new_id(), "can_number": can, "method": "evaporate", "tare_g": 100.0, "share": 0.5},
    )["number"]
    walk.acts("dishes", f"/api/sludge/dishes/{other}", {"kind": "throw", "text": "no more"})
    walk.acts("cans", path, {"kind": "sludge_out", "share": 1.0, "wiped": True}, {"kind": "close"})


def at_a_run(walk: Walk) -> None:
    """A run of a process."""
    process = {
        "name": f"Twice {walk.new_id()[:6]}",
        "products": ["Cu2(OH)2CO3", "Na2SO4", "CO2", "H2O"],
        "wanted": "Cu2(OH)2CO3",
        "ingredients": [
            {"name": "Salt", "parts_g": 50.0, "formula": "CuSO4.5H2O", "solution_pct": 10.0},
            {"name": "Soda", "parts_g": 25.0, "formula": "Na2CO3", "solution_pct": 10.0},
        ],
        "steps": [
            {"kind": "hold", "says": "Ripen", "minutes": 60.0},
            {"kind": "acidity", "says": "pH", "ph_low": 6.5, "ph_high": 8.5},
            {"kind": "wash", "says": "Wash", "wash_ml": 300.0, "washes": 2},
            {"kind": "dry", "says": "Dry"},
        ],
    }
    made = walk.client.post("/api/making/processes", json=process).json()
    number = walk.begun(f"/api/making/processes/{made['id']}/runs", {"request_id": walk.new_id()})["number"]
    path = f"/api/making/runs/{number}"
    steps = [step["key"] for step in walk.client.get(path).json()["steps"] if step["kind"] == "hold"]
    walk.acts(
        "runs",
        path,
        {"kind": "ready"},
        {"kind": "added", "ingredient": "in-1", **g(50)},
        {"kind": "added", "ingredient": "in-2", "as": "soda", **g(25)},
        strike("soda", "out"),
        strike("out", "back"),
        {"kind": "ph", "ph": 7.2},
        {"kind": "temperature", "temperature_c": 21.0},
        *({"kind": kind, "step": key} for key in steps[:1] for kind in ("hold", "rest", "done")),
        {"kind": "washed", "ml": 300.0},
        {"kind": "weighed", "g": 60.0, "tare_g": 40.0},
        {"kind": "waste", "ml": 900.0},
        lambda last: {"kind": "handed_over", "of": last["waste"]},
        {"kind": "sieved", "fractions": [{"aperture_um": 63, "retained_g": 1.0}], "pan_g": 17.0},
        {"kind": "colour", "srgb": "#4f9a7c"},
        {"kind": "note", "text": "twice"},
        {"kind": "finish", "g": 18.0, "anyway": True},
        {"kind": "tried", "takes": "well"},
        {"kind": "strength", "white_parts": 10.0, "reference_white_parts": 10.0},
        {"kind": "spot", "tried_with": "acid", "seen": "unchanged"},
        {"kind": "in_medium", "text": "oil"},
        {"kind": "light"},
        {"kind": "faded", "fading": "none"},
        {"kind": "light_verdict", "verdict": "holds"},
        {"kind": "density", "powder_g": 10.0, "full_g": 100.0, "with_powder_g": 107.0},
    )
    walk.picture("runs", path)
    left = walk.begun(f"/api/making/processes/{made['id']}/runs", {"request_id": walk.new_id()})["number"]
    walk.acts("runs", f"/api/making/runs/{left}", {"kind": "ready"}, {"kind": "abandon", "text": "no more"})


def on_paper_and_shelf(walk: Walk) -> None:
    """A ladder, a rub-out, a found jar, a chart, a try at practice."""
    asked = {
        "name": f"Twice {walk.new_id()[:6]}",
        "recipe_id": 1,
        "oil_g_per_100g": 42.0,
        "rungs": 3,
        "additives": [{"additive_key": "aluminium-stearate", "lot_id": None, "top_dose_pct": 2.0}],
        "targets": [{"what": "bleed_mm", "at_most": 2.0}],
    }
    ladder = walk.begun("/api/additives/ladders", {"request_id": walk.new_id(), "ladder": asked})["id"]
    walk.acts(
        "additives",
        f"/api/additives/ladders/{ladder}",
        {"kind": "weighed", "rung": 0},
        {"kind": "mixed", "rung": 0},
        {"kind": "spread", "rung": 0, "diameters_mm": [44.0, 44.6]},
        {"kind": "string", "rung": 0, "length_mm": 14.0},
        {"kind": "strike", "rung": 0, "of": "string"},
    )
    body = {"request_id": walk.new_id(), "lot_id": 1, "oil": {"oil_key": "linseed-refined"}, "pigment_g": 5.0}
    path = f"/api/rubout/tests/{walk.begun('/api/rubout', body)['id']}"
    for address, step in (("steps", g(2.0)), ("steps", g(0.5)), ("undo", {})):
        walk.told(f"rubout {address}", *walk.pair("POST", f"{path}/{address}", json={"id": walk.new_id(), **step}))
    walk.told("rubout end", *walk.pair("POST", f"{path}/end", json={"sure": True}))
    walk.acts(
        "shelf",
        f"/api/shelf/{walk.client.get('/api/shelf').json()['items'][0]['id']}",
        {"kind": "move", "place": "drawer"},
        {"kind": "note", "text": "twice"},
        {"kind": "stir_back"},
    )
    walk.acts("charts", "/api/mixing/charts/2", {"kind": "note", "text": "twice"}, strike("note"))
    begun = walk.begun("/api/practice", {"id": walk.new_id(), "exercise": "first"})["number"]
    walk.acts(
        "practice",
        f"/api/practice/{begun}",
        {"kind": "ready"},
        {"kind": "note", "text": "twice"},
        {"kind": "abandon", "text": "no more"},
    )


WALKS: tuple[Callable[[Walk], None], ...] = (at_the_slab, at_the_pot, at_the_can, at_a_run, on_paper_and_shelf)


def twice(base: str, luck: random.Random, day: str, rounds: int) -> Twice:
    """Every walk so often; what all pairs came to."""
    outcome = Twice()
    with httpx.Client(base_url=base, timeout=60) as client:
        for walk in _walks(rounds):
            walk(Walk(client, luck, day, outcome))
    return outcome


def _walks(rounds: int) -> Iterator[Callable[[Walk], None]]:
    for _ in range(rounds):
        yield from WALKS
