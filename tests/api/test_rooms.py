"""The rooms over HTTP: bad input refused whole, unknown ids, two followers, and a fuzz run against the description."""

import json
import threading
from typing import Any
from uuid import uuid4

import httpx
from hypothesis import HealthCheck, given, settings
from hypothesis import strategies as st

from tests.support import ServerTest, now_iso


class BadInput(ServerTest):
    def plan(self, **change: Any) -> httpx.Response:
        asked = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 100,
        }
        return self.client.post("/api/plan", json=asked | change)

    def test_plan(self) -> None:
        self.ok(self.plan())
        twice = [{"pigment_key": "bone-black", "parts": 1}] * 2
        cases: list[tuple[str, dict[str, Any]]] = [
            ("reduced_pvc", {"reduced_pvc": 1.3}),
            ("reduced_pvc", {"reduced_pvc": "0.86"}),
            ("lines", {"lines": []}),
            ("lines.1.lot_id", {"lines": twice}),
            ("lines.0.parts", {"lines": [{"pigment_key": "bone-black", "parts": -1}]}),
            ("lines.0.pigment_key", {"lines": [{"pigment_key": "nothing", "parts": 1}]}),
            ("pigment_g", {"pigment_g": 1_000_000}),
            ("pigment_g", {"pigment_g": 0}),
            ("start", {"tubes": [{"tube_type_id": 1, "count": 1}]}),
            ("tubes.0.count", {"pigment_g": None, "tubes": [{"tube_type_id": 1, "count": -1}]}),
            ("tubes.0.tube_type_id", {"pigment_g": None, "tubes": [{"tube_type_id": 2**40, "count": 1}]}),
            ("oil", {"oil": {}}),
        ]
        for field, change in cases:
            with self.subTest(field=field, change=change):
                self.refused(self.plan(**change), field)

    def test_slab(self) -> None:
        number = self.take_to_slab()
        oil = "library-linseed-refined"
        self.ok(self.act(number, "powder", source="library-bone-black", measure={"amount": 100}))
        cases: list[tuple[str, str, dict[str, Any]]] = [
            ("measure.amount", "oil", {"source": oil, "measure": {"amount": -1}}),
            ("measure.amount", "oil", {"source": oil, "measure": {"amount": 1_000_000}}),
            ("measure.amount", "oil", {"source": oil, "measure": {"unit": "drop"}}),
            ("measure.after_g", "oil", {"source": oil, "measure": {"unit": "weigh_back", "before_g": 5, "after_g": 6}}),
            ("measure.amount", "sample", {"measure": {"amount": 101}}),
            ("source", "powder", {"source": "lot-77", "measure": {"amount": 1}}),
            ("strikes", "strike", {"strikes": str(uuid4())}),
            ("made_at", "note", {"text": "late", "made_at": "9999-01-01T00:00:00Z"}),
            ("made_at", "note", {"text": "naive", "made_at": "2026-06-18T10:00:00"}),
            ("kind", "explode", {}),
            ("verdict", "finish", {"leftover_ml": 0}),
        ]
        for field, kind, what in cases:
            with self.subTest(field=field, kind=kind):
                body = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
                if kind == "finish":
                    self.ok(self.act(number, "oil", source=oil, measure={"amount": 60}))
                self.refused(self.client.post(f"/api/slab/{number}/acts", json=body), field)
        self.assertEqual(len(self.ok(self.client.get(f"/api/slab/{number}"))["timeline"]), 2)

    def test_an_id_with_another_content_is_a_conflict(self) -> None:
        number = self.take_to_slab()
        body = {"id": str(uuid4()), "kind": "note", "made_at": now_iso(), "text": "one"}
        first = self.ok(self.client.post(f"/api/slab/{number}/acts", json=body))
        again = self.ok(self.client.post(f"/api/slab/{number}/acts", json=body))
        self.assertEqual(first["last_seq"], again["last_seq"])
        self.refused(self.client.post(f"/api/slab/{number}/acts", json=body | {"text": "two"}), "id", 409)

    def test_unknown_and_senseless_addresses(self) -> None:
        for path in ("/api/slab/99999", "/api/batches/99999", "/api/materials/lots/99999", "/api/plan/saved/99999"):
            self.refused(self.client.get(path), "path", 404)
        self.refused(self.client.get("/api/batches/99999999999999999999"), "number")
        self.refused(self.client.get("/api/batches", params={"since": "9999-12-31"}), "since")
        self.refused(self.client.get("/api/batches", params={"since": "yesterday"}), "since")
        self.assertEqual(self.client.get("/api/nowhere").status_code, 404)

    def test_a_body_of_three_megabytes(self) -> None:
        self.refused(self.client.post("/api/calc/measure", content=b" " * 3_000_000), "body", 413)

        def drip() -> Any:
            for _ in range(300):
                yield b" " * 10_000

        answer = self.client.post("/api/calc/measure", content=drip(), headers={"content-type": "application/json"})
        self.assertIn(answer.status_code, (400, 413))

    def test_a_foreign_host_is_turned_away(self) -> None:
        self.assertEqual(self.client.get("/api/health", headers={"host": "studio.example"}).status_code, 400)

    def test_lots_and_workshop(self) -> None:
        new = {"kind": "pigment", "material_key": "viridian", "code": "X1", "received_on": "2026-06-01", "received": 5}
        lot = self.ok(self.client.post("/api/materials/lots", json=new))
        self.refused(self.client.post("/api/materials/lots", json=new), "code")
        tub = new | {"code": "X3", "received": 300.0, "price": 8.0}
        self.assertEqual(self.ok(self.client.post("/api/materials/lots", json=tub))["price_per_unit"], "26.6667")
        dear = new | {"code": "X4", "received": 0.1, "price": 999_999.0}
        self.refused(self.client.post("/api/materials/lots", json=dear), "price")
        self.refused(self.client.post("/api/materials/lots", json=new | {"code": "X2", "received": -5}), "received")
        self.refused(
            self.client.post("/api/materials/lots", json=new | {"code": "X2", "received_on": "9999-01-01"}),
            "received_on",
        )
        weigh_in = f"/api/materials/lots/{lot['id']}/weigh-in"
        self.assertEqual(self.ok(self.client.post(weigh_in, json={"reading": 3.5}))["lot"]["on_hand"], 3.5)
        self.refused(self.client.post(weigh_in, json={"reading": "much"}), "reading")
        self.refused(
            self.client.post("/api/workshop/slabs", json={"name": "S", "area_cm2": 0, "tooth": "fresh"}), "area_cm2"
        )
        kept = self.ok(self.client.post("/api/workshop/slabs", json={"name": "S", "area_cm2": 400, "tooth": "fresh"}))
        slab_id = kept["slabs"][-1]["id"]
        self.assertEqual(len(self.ok(self.client.delete(f"/api/workshop/slabs/{slab_id}"))["slabs"]), 1)

    def test_text_nobody_can_write_down(self) -> None:
        number = self.take_to_slab()
        for text in ("a\u0000b", "\u001b[31m", "\ud800"):
            body = json.dumps({"id": str(uuid4()), "kind": "note", "made_at": now_iso(), "text": text})
            answer = self.client.post(
                f"/api/slab/{number}/acts", content=body, headers={"content-type": "application/json"}
            )
            self.assertIn(answer.status_code, (400, 422), text)
        self.refused(self.client.get("/api/batches", params={"words": "a\u0000"}), "words")

    def test_followers_hear_of_every_act(self) -> None:
        number = self.take_to_slab()
        heard: list[str] = []
        both = threading.Barrier(3)

        def follow() -> None:
            with httpx.stream("GET", f"{self.base}/api/slab/{number}/follow", timeout=20) as stream:
                for line in stream.iter_lines():
                    if line.startswith("event: ready"):
                        both.wait(10)
                    if line.startswith("event: grew"):
                        heard.append(line)
                        return

        windows = [threading.Thread(target=follow) for _ in range(2)]
        for window in windows:
            window.start()
        both.wait(10)
        self.ok(self.act(number, "note", text="hello"))
        for window in windows:
            window.join(10)
        self.assertEqual(len(heard), 2)


JSON = st.recursive(
    st.none() | st.booleans() | st.integers(-(2**70), 2**70) | st.floats() | st.text(max_size=30),
    lambda inner: st.lists(inner, max_size=4) | st.dictionaries(st.text(max_size=12), inner, max_size=4),
    max_leaves=12,
)


class Fuzz(ServerTest):
    """Made from the API's own description: bodies of the right shape with values of every kind, and plain rubbish."""

    with_demo = True

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        cls.description = cls.client.get("/api/openapi.json", timeout=60).json()

    def shaped(self, schema: dict[str, Any], depth: int = 0) -> st.SearchStrategy[Any]:
        """Values that mostly fit a schema."""
        if "$ref" in schema:
            schema = self.description["components"]["schemas"][schema["$ref"].rsplit("/", 1)[1]]
        if "anyOf" in schema:
            return st.one_of([self.shaped(one, depth) for one in schema["anyOf"]])
        if "enum" in schema or "const" in schema:
            return st.sampled_from(schema.get("enum") or [schema["const"]])
        kind = schema.get("type")
        if kind == "object" and "properties" in schema:
            return st.fixed_dictionaries(
                {name: self.shaped(one, depth + 1) | _ODD for name, one in schema["properties"].items()}
            )
        if kind == "array":
            return st.lists(self.shaped(schema["items"], depth + 1), max_size=3)
        if schema.get("format") == "uuid":
            return st.uuids().map(str)
        if schema.get("format") in ("date", "date-time"):
            return st.sampled_from(["2026-06-18T10:00:00Z", "2026-06-18", "9999-12-31T00:00:00Z", "0001-01-01"])
        plain = {"number": st.floats(0, 2000), "integer": st.integers(0, 20), "boolean": st.booleans()}
        return plain.get(str(kind), st.text(max_size=20) | st.sampled_from(["bone-black", "linseed-refined", "lot-1"]))

    def operations(self) -> list[tuple[str, str, dict[str, Any]]]:
        return [
            (method, path, operation)
            for path, methods in self.description["paths"].items()
            for method, operation in methods.items()
            if not path.endswith(("/follow", "/live"))
        ]

    def test_no_input_makes_a_server_error(self) -> None:
        operations = self.operations()
        self.assertGreater(len(operations), 25)

        @settings(max_examples=400, deadline=None, derandomize=True, suppress_health_check=list(HealthCheck))
        @given(st.data())
        def fuzz(data: st.DataObject) -> None:
            method, path, operation = data.draw(st.sampled_from(operations))
            query = {}
            for parameter in operation.get("parameters", []):
                value = data.draw(
                    st.sampled_from(["1", "4", "slabs", "0", "-1", "x", "999999999999", "%00", "2026-06-18"])
                )
                if parameter["in"] == "path":
                    path = path.replace(f"{{{parameter['name']}}}", value)
                elif data.draw(st.booleans()):
                    query[parameter["name"]] = value
            content = None
            if "requestBody" in operation:
                bodies = operation["requestBody"]["content"]
                kind = next(iter(bodies))
                if kind == "application/json":
                    content = json.dumps(data.draw(self.shaped(bodies[kind]["schema"]) | JSON)).encode()
                else:
                    content = data.draw(st.binary(max_size=200))
            answer = self.client.request(
                method, path, params=query, content=content, headers={"content-type": "application/json"}
            )
            self.assertLess(answer.status_code, 500, f"{method} {path} {content}: {answer.text}")
            if answer.status_code >= 400:
                self.assertEqual(answer.headers["content-type"], "application/problem+json")

        fuzz()


_ODD = st.sampled_from([None, -1, 0, 1e308, "", "\u0000", "x" * 3000, [], {}, True])


class Blanks(ServerTest):
    """Every form sent blank: the answer is in the maker's words, whatever checked it."""

    MACHINE = ("input should", "should have", "validation", "value error", "field required", "api's description")

    def test_no_checkers_message_reaches_a_person(self) -> None:
        paths = self.ok(self.client.get("/api/openapi.json", timeout=60))["paths"]
        asked = 0
        for path, operations in paths.items():
            for method in operations.keys() & {"post", "put"}:
                if "application/json" not in operations[method].get("requestBody", {}).get("content", {}):
                    continue
                url = path
                for name in ("number", "item_id", "lot_id", "recipe_id", "test_id", "record_id", "slab_id"):
                    url = url.replace("{" + name + "}", "1")
                url = url.replace("{pigment_key}", "bone-black")
                for body in ({}, [], {"lines": [], "name": "", "kind": "", "items": [], "readings": []}):
                    answer = self.client.request(method, url, json=body)
                    self.assertLess(answer.status_code, 500, (url, answer.text))
                    if answer.status_code == 422:
                        asked += 1
                        text = answer.text.lower()
                        self.assertFalse([word for word in self.MACHINE if word in text], (url, answer.text))
        self.assertGreater(asked, 100)


class Cans(ServerTest):
    with_demo = True

    def test_a_can_that_holds_less_than_a_millilitre_is_refused_beside_its_field(self) -> None:
        body = {"name": "Can", "place": "", "tare_g": 100.0, "holds_ml": 0.01, "price_per_l": None}
        self.refused(self.client.put("/api/sludge/cans/1", json=body), "holds_ml")
