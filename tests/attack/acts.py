"""Attacks on acts: undone and undone again, made for a job that is another by now, and two windows of one browser."""

from __future__ import annotations

import random
import re
from typing import Any
from uuid import UUID, uuid4

import httpx

from niddy.operations.backup import write as write_backup
from niddy.operations.browser import launch
from niddy.operations.instance import Instance
from tests.attack.twice import OIL, Twice, Walk, twice

DAY = "2026-06-18"
ELSEWHERE = "studio.test"


def pairs(instance: Instance, luck: random.Random, rounds: int) -> tuple[int, list[str]]:
    """The same act twice at the same moment, in all rooms, of all kinds."""
    outcome: Twice = twice(instance.base, luck, DAY, rounds)
    return outcome.pairs, [*outcome.differ, *outcome.refused][:20]


def undone(instance: Instance, luck: random.Random, rounds: int) -> tuple[int, list[str]]:
    """Oil poured and undone at random, over and over, at slab, pot and run: stock never changes by itself."""
    tries, harm = 0, []
    with httpx.Client(base_url=instance.base, timeout=60) as client:
        oil = next(
            lot for lot in client.get("/api/materials/lots").json() if lot["kind"] == "oil" and lot["on_hand"] > 100
        )
        plan = {
            "lines": [{"pigment_key": "bone-black", "parts": 1}],
            "oil": {"lot_id": oil["id"]},
            "reduced_pvc": 0.86,
            "pigment_g": 100,
        }
        for _ in range(rounds):
            walk = Walk(client, luck, DAY, Twice())
            number = walk.begun("/api/plan/take-to-slab", {"request_id": walk.new_id(), "plan": plan})["number"]
            before = client.get(f"/api/materials/lots/{oil['id']}").json()["lot"]["on_hand"]
            acts: list[str] = []
            for _ in range(12):
                act_id = walk.new_id()
                body: dict[str, Any] = {"id": act_id, "made_at": walk.made_at()}
                if acts and luck.random() < 0.6:
                    body |= {"kind": "strike", "strikes": luck.choice(acts[-3:])}
                else:
                    body |= {"kind": "oil", "source": f"lot-{oil['id']}", "measure": {"amount": 2.5}}
                answer = client.post(f"/api/slab/{number}/acts", json=body)
                tries += 1
                if answer.status_code >= 500:
                    harm.append(f"{answer.status_code} {answer.text[:80]}")
                elif answer.is_success:
                    acts.append(act_id)
            inside = client.get(f"/api/slab/{number}").json()["oil"]["in_g"]
            left = client.get(f"/api/materials/lots/{oil['id']}").json()["lot"]["on_hand"]
            if abs(before - left - inside) > 1e-6:
                harm.append(f"batch {number}: {before} g before, {left} g left, {inside} g in")
    return tries, harm


def after_an_older_backup(instance: Instance) -> tuple[int, list[str]]:
    """Acts that waited while an older backup came back land in no other job, and no number is given twice."""
    harm: list[str] = []
    older = instance.home / "older.backup"
    write_backup(instance.cluster, older)
    plan = {
        "lines": [{"pigment_key": "bone-black", "parts": 1}],
        "oil": {"oil_key": "linseed-refined"},
        "reduced_pvc": 0.86,
        "pigment_g": 100,
    }

    def begun() -> int:
        body = {"request_id": str(uuid4()), "plan": plan}
        return int(httpx.post(f"{instance.base}/api/plan/take-to-slab", json=body, timeout=60).json()["number"])

    gone = begun()
    with httpx.stream("GET", f"{instance.base}/api/slab/{gone}/follow", timeout=30) as stream:
        said = next(line for line in stream.iter_lines() if '"job"' in line)
    job = re.search(r"[0-9a-f-]{36}", said)
    assert job is not None
    instance.stop()
    done = instance.run("restore", str(older))
    if done.returncode:
        harm.append(done.stderr[:200])
    instance.start()
    if begun() <= gone:
        harm.append("a number was given twice")
    for number in (gone, gone + 1, 32):
        act = {
            "id": str(uuid4()),
            "kind": "oil",
            "source": OIL,
            "measure": {"amount": 3.0},
            "made_at": f"{DAY}T09:00:00Z",
        }
        headers = {"niddy-job": str(UUID(job[0]))}
        answer = httpx.post(f"{instance.base}/api/slab/{number}/acts", json=act, headers=headers, timeout=60)
        if answer.status_code != 409:
            harm.append(f"an act of another job at {number}: {answer.status_code}")
    return 5, harm


def two_windows(instance: Instance, rounds: int) -> tuple[int, list[str]]:
    """Two windows of one browser on plain http send one queue: each act once, and none is called not taken."""
    from playwright.sync_api import Route, expect, sync_playwright

    harm: list[str] = []
    sent: list[str] = []
    acts = re.compile("/acts$")
    there = instance.base.replace("127.0.0.1", "localhost")

    def notes(route: Route) -> None:
        body = route.request.post_data_json
        assert body is not None
        sent.append(body["id"])
        route.continue_()

    with sync_playwright() as started:
        browser = launch(started)
        context = browser.new_context(base_url=there, service_workers="block")
        # As over plain http off loopback, where a browser has no locks of its own.
        context.add_init_script("Object.defineProperty(navigator, 'locks', { value: undefined })")
        one, other = context.new_page(), context.new_page()
        for page in (one, other):
            page.goto("/slab/32")
            expect(page.get_by_role("heading", level=1)).to_be_visible()
        for _ in range(rounds):
            for page in (one, other):
                page.route(acts, lambda route: route.abort())
            one.bring_to_front()
            for _ in range(4):
                one.keyboard.press("Space")
                one.wait_for_timeout(60)
            for page in (one, other):
                page.unroute(acts)
                page.route(acts, notes)
            for page in (one, other):
                expect(page.get_by_role("status").filter(has_text="wait")).to_have_count(0, timeout=30_000)
                if page.get_by_role("alert", name="Not taken").count():
                    harm.append("an act that was taken is called not taken")
                page.unroute(acts)
        browser.close()
    if len(sent) != len(set(sent)):
        harm.append(f"{len(sent) - len(set(sent))} acts were sent twice")
    return len(sent), harm
