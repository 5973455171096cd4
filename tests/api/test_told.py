"""What the demo studio tells every screen: whatever changes in it is meant, or is found here and told line by line.

After a change that is meant: NIDDY_KEEP_TOLD=1 ./niddy test tests.api.test_told, and the new file is part of it.
"""

import json
import lzma
import os
import unittest
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from tests.support import ServerTest

KEPT = Path(__file__).with_name("told.json.xz")
MOST_LINES = 8
"""So many lines an address are told of what changed."""

NOTHING = object()
PLAN = {
    "lines": [{"pigment_key": "bone-black", "parts": 3}, {"pigment_key": "viridian", "parts": 1}],
    "oil": {"oil_key": "walnut-refined"},
    "reduced_pvc": 0.84,
    "tubes": [{"tube_type_id": 2, "count": 3}],
    "additives": [{"additive_key": "aluminium-stearate", "dose_pct": 1.0}],
}
SET = {
    "base_id": 1,
    "oil_key": "linseed-refined",
    "way": "dry",
    "colours": [
        {"pigments": [{"pigment_key": "bone-black"}], "moulds": [{"mould_id": 2, "count": 3}], "dent_dmm": 30},
        {
            "pigments": [{"pigment_key": "viridian"}, {"pigment_key": "titanium-white-rutile", "parts": 2}],
            "moulds": [{"mould_id": 1, "count": 2}],
            "school": "weight",
            "share": 0.5,
            "dent_dmm": 40,
        },
        {"moulds": [{"mould_id": 2, "count": 1}], "dent_dmm": 48},
    ],
}
GETS = (
    "/api/home",
    "/api/materials/library",
    "/api/materials/kinds",
    "/api/materials/lots",
    "/api/materials/lots?sort=age",
    "/api/materials/lots?with_used_up=true&words=blue",
    *(f"/api/materials/lots/{n}" for n in range(1, 30)),
    "/api/materials/export.json",
    "/api/rubout",
    *(f"/api/rubout/pigments/{key}" for key in ("burnt-sienna", "bone-black", "viridian", "smalt")),
    "/api/plan/bodies",
    "/api/plan/saved",
    *(f"/api/slab/{n}" for n in range(1, 33)),
    *(f"/api/checks/{n}" for n in range(10, 31)),
    "/api/checks/compare?one=11&other=18",
    "/api/checks/compare?one=24&other=30",
    "/api/recipes",
    "/api/recipes/1",
    "/api/recipes/1/consistency/spread",
    "/api/recipes/1/body-map",
    "/api/additives",
    "/api/additives/ladders",
    *(f"/api/additives/ladders/{n}" for n in range(1, 3)),
    "/api/additives/ladders/start/1",
    "/api/tubes",
    "/api/tubes/empties",
    "/api/tubes/labels/sizes",
    "/api/tubes/labels/sizes?paper=letter",
    *(f"/api/tubes/{n}" for n in (10, 24, 30)),
    "/api/shelf?limit=200",
    "/api/shelf?only_due=true&sort=due",
    "/api/shelf?at_risk=true",
    "/api/shelf?gone=true&sort=colour",
    *(f"/api/shelf/{n}" for n in range(1, 69)),
    "/api/sticks",
    *(f"/api/sticks/{n}" for n in range(1, 10)),
    "/api/sticks/bases/1",
    "/api/sticks/bases/2",
    "/api/sticks/bases/1?version=1",
    "/api/sticks/bases/beside?of=1&of=2",
    "/api/sticks/recipes/1",
    *(f"/api/lineage/items/{n}" for n in (1, 20, 40, 60, 66)),
    *(f"/api/lineage/lots/{n}" for n in (1, 5, 12, 20)),
    "/api/batches?limit=200",
    "/api/batches?words=sienna&verdict=soft",
    *(f"/api/batches/{n}" for n in range(1, 33)),
    *(f"/api/batches/{n}/story" for n in (10, 24, 32)),
    *(f"/api/batches/{n}/log?before=9" for n in (10, 24)),
    "/api/workshop",
    "/api/sludge",
    "/api/sludge/solvents",
    *(f"/api/sludge/cans/{n}" for n in (1, 2)),
    *(f"/api/sludge/dishes/{n}" for n in (1, 2)),
    "/api/sludge/cans/1/enough?count=3",
    "/api/materials/lots/34",
    "/api/shelf/69",
    "/api/making",
    "/api/making/processes/1",
    "/api/making/processes/1?version=1",
    "/api/making/processes/2",
    *(f"/api/making/runs/{n}" for n in range(1, 8)),
    "/api/making/waste",
    "/api/making/runs/2/cost?hours=2&wage_per_hour=12",
    "/api/mixing",
    "/api/mixing/charts/1",
    "/api/mixing/charts/2",
    *(f"/api/mixing/paints/{n}" for n in (1, 16, 24, 27)),
    "/api/mixing/recipes/1",
)
POSTS: tuple[tuple[str, dict[str, Any]], ...] = (
    ("/api/plan", PLAN),
    ("/api/plan", {**PLAN, "measuring": "spoons", "tool": "knife"}),
    ("/api/plan", {**PLAN, "measuring": "eye", "additives": [], "tubes": None, "pigment_g": 12.5}),
    ("/api/plan", {**PLAN, "recipe_id": 1, "additives": [], "lines": [{"pigment_key": "burnt-sienna", "parts": 1}]}),
    ("/api/mixing/find", {"colour": {"srgb": "#6c7f5a"}}),
    ("/api/mixing/find", {"item_id": 69, "guesses": True}),
    ("/api/sticks/plan", SET),
    ("/api/tubes/cost", {"batch_number": 24}),
    (
        "/api/tubes/cost",
        {
            "batch_number": 30,
            "times": 2.5,
            "label_price": "0.2",
            "hours": "1.5",
            "wage_per_hour": "20",
            "bought_per_tube": "14",
            "tools": "180",
        },
    ),
    ("/api/tubes/cost", {"plan": PLAN}),
    ("/api/tubes/cost/recipe/1", {"hours": "2", "wage_per_hour": "15"}),
    ("/api/recipes/1/again", {"pigment_g": 80.0}),
    ("/api/recipes/1/again", {"tubes": [{"tube_type_id": 1, "count": 4}]}),
    ("/api/tubes/labels/preview", {"items": [1, 7, 20, 41, 62, 66]}),
    (
        "/api/additives/ladders/design",
        {
            "name": "L",
            "additives": [{"additive_key": "beeswax", "top_dose_pct": 4.0}],
            "oil_g_per_100g": 60.0,
            "paste_per_rung_g": 6.0,
            "rungs": 5,
        },
    ),
)


def plain(value: Any) -> Any:
    """Numbers as far as anybody reads them: no machine's last digit counts."""
    if isinstance(value, float):
        return float(f"{value:.7g}")
    if isinstance(value, dict):
        return {key: plain(one) for key, one in value.items()}
    return [plain(one) for one in value] if isinstance(value, list) else value


def leaves(value: Any, at: str = "") -> Iterator[tuple[str, Any]]:
    """Every value of an answer with where it stands."""
    if isinstance(value, dict):
        for key, one in value.items():
            yield from leaves(one, f"{at}.{key}" if at else key)
    elif isinstance(value, list):
        for n, one in enumerate(value):
            yield from leaves(one, f"{at}[{n}]")
    else:
        yield at, value


def changes(was: Any, now: Any) -> list[str]:
    """What an answer says otherwise than it did, a line each."""
    before, after = dict(leaves(was)), dict(leaves(now))
    return [
        f"{at}: {before.get(at, 'nothing')!r} -> {after.get(at, 'nothing')!r}"
        for at in (*before, *(at for at in after if at not in before))
        if before.get(at, NOTHING) != after.get(at, NOTHING)
    ]


class Told(ServerTest):
    with_demo = True

    def told(self) -> dict[str, Any]:
        """Each answer; pictures left out, since no two ways of drawing agree on every point."""
        asked = [(path, self.client.get(path)) for path in GETS]
        asked += [(f"{path} #{n}", self.client.post(path, json=body)) for n, (path, body) in enumerate(POSTS)]
        found: dict[str, Any] = {}
        for path, answer in asked:
            body = self.ok(answer)
            if isinstance(body, dict):
                body = {key: value for key, value in body.items() if not key.endswith("png")}
            found[path] = plain(body)
        return found

    def test_nothing_that_a_screen_is_told_changes_unmeant(self) -> None:
        told = self.told()
        if os.environ.get("NIDDY_KEEP_TOLD"):
            KEPT.write_bytes(lzma.compress(json.dumps(told, sort_keys=True).encode()))
        kept = json.loads(lzma.decompress(KEPT.read_bytes()))
        self.assertEqual(sorted(told), sorted(kept))
        said = []
        for path, now in told.items():
            lines = changes(kept[path], now)
            said += [f"{path} {line}" for line in lines[:MOST_LINES]]
            said += [f"{path} and {len(lines) - MOST_LINES} more"] if len(lines) > MOST_LINES else []
        self.assertFalse(said, "\n".join(["what screens are told has changed; if it is meant, keep it anew", *said]))


class Changes(unittest.TestCase):
    def test_each_is_told_where_it_stands(self) -> None:
        was = {"name": "umber", "lots": [{"g": 1.0}, {"g": 2.0}], "gone": None}
        now = {"name": "umber", "lots": [{"g": 1.5}, {"g": 2.0, "code": "U-1"}]}
        self.assertEqual(
            changes(was, now), ["lots[0].g: 1.0 -> 1.5", "gone: None -> 'nothing'", "lots[1].code: 'nothing' -> 'U-1'"]
        )
        self.assertEqual(changes(was, was), [])
