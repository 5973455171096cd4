"""Nothing recorded is lost: failing servers, other addresses, focus, late arrivals, reloads without network."""

import io
import json
import re
from typing import ClassVar

from PIL import Image
from playwright.sync_api import Page, Route, expect
from sqlalchemy import text

from tests.browser.support import ELSEWHERE
from tests.browser.test_layout import SCREENS
from tests.browser.test_slab import OIL, SlabTest

ACTS = re.compile("/acts$")


def failing(status: int, detail: str) -> str:
    """What a server that fails says: no reason that would let anybody drop an act."""
    return json.dumps({"type": "about:blank", "title": detail, "status": status, "detail": detail, "errors": []})


class FailingServer(SlabTest):
    def answer_acts(self, page: Page, status: int, detail: str) -> None:
        body = failing(status, detail)
        page.route(ACTS, lambda route: route.fulfill(status=status, content_type="application/problem+json", body=body))

    def test_an_error_of_the_server_keeps_the_act_also_over_a_reload(self) -> None:
        number = self.batch()
        page = self.open(number)
        self.answer_acts(page, 500, "Something went wrong here")
        page.keyboard.press("Space")
        expect(page.get_by_role("status").filter(has_text="1 act waits for the server")).to_be_visible()
        page.reload()
        expect(page.get_by_role("status").filter(has_text="1 act waits for the server")).to_be_visible()
        self.assertEqual(self.state(number)["timeline"][-1]["kind"], "look")
        page.unroute(ACTS)
        expect(self.saved(page)).to_be_visible()
        self.assertEqual([e["kind"] for e in self.state(number)["timeline"][-2:]], ["look", "mull"])

    def test_what_is_waited_for_is_said(self) -> None:
        page = self.open(self.batch())
        self.answer_acts(
            page, 503, "The database does not answer yet; nothing is lost, and this is tried again by itself."
        )
        page.keyboard.press("Space")
        expect(page.locator("[data-part=offline]")).to_contain_text("The database does not answer yet")

    def test_a_batch_whose_act_fails_holds_no_other_batch_back(self) -> None:
        first, second = self.batch(), self.batch()
        page = self.open(first)
        body = failing(500, "Something went wrong here")
        pattern = re.compile(f"/slab/{first}/acts$")
        page.route(pattern, lambda route: route.fulfill(status=500, content_type="application/problem+json", body=body))
        page.keyboard.press("Space")
        expect(page.get_by_role("status").filter(has_text="1 act waits")).to_be_visible()
        self.open(second)
        page.keyboard.press("Space")
        expect(page.get_by_role("timer")).not_to_have_text("0:00")
        expect(self.saved(page)).to_be_visible()
        self.assertEqual(self.state(second)["timeline"][-1]["kind"], "mull")

    def test_a_refused_amount_is_put_right(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.route(ACTS, lambda route: route.abort())
        page.keyboard.press("s")
        page.get_by_label("How much").fill("9000")
        page.keyboard.press("Enter")
        expect(page.locator("[data-part=offline]")).to_be_visible()
        page.unroute(ACTS)
        told = page.get_by_role("alert", name="Not taken")
        expect(told).to_contain_text("More than is on the slab")
        page.reload()
        told.get_by_role("button", name="Put it right").click()
        told.get_by_label("How much it was").fill("9")
        told.get_by_role("button", name="Send it so").click()
        expect(told).to_have_count(0)
        expect(page.get_by_text("sample taken").first).to_be_visible()
        self.assertAlmostEqual(self.state(number)["sampled_g"], 9)

    def test_a_note_whose_answer_was_lost_counts_once(self) -> None:
        page = self.page
        page.goto("/batches/24")
        page.get_by_label("Add a note").fill("Said once, kept once")
        lost: list[bool] = []

        def swallow(route: Route) -> None:
            if lost:
                route.continue_()
            else:
                lost.append(True)
                route.fetch()
                route.abort()

        page.route(ACTS, swallow)
        page.get_by_role("button", name="Add the note").click()
        expect(page.get_by_role("alert")).to_contain_text("what you typed is kept")
        page.get_by_role("button", name="Add the note").click()
        expect(page.get_by_label("Add a note")).to_have_value("")
        told = [e["text"] for e in self.state(24)["timeline"]]
        self.assertEqual(told.count("note: Said once, kept once"), 1)


class Elsewhere(SlabTest):
    """The studio's own network: plain http under another name, where a browser has no secure context."""

    host: ClassVar[str] = ELSEWHERE

    def test_every_screen_opens_and_an_act_is_recorded(self) -> None:
        there = self.base.replace("127.0.0.1", ELSEWHERE)
        page = self.window(there)
        # Who is signed in is who practises.
        named = {"/practice/eye": "The eye of Owner", "/checks/11": "Burnt sienna", "/rub-out/10": "cerulean"}
        for path, heading in {**dict(list(SCREENS.items())[::2]), **named}.items():
            with self.subTest(path):
                page.goto(path)
                expect(page.get_by_role("heading", level=1)).to_contain_text(heading)
        self.assertEqual(page.evaluate("[isSecureContext, 'randomUUID' in crypto, !!navigator.locks]"), [False] * 3)
        number = self.batch()
        self.open(number, page)
        page.keyboard.press("p")
        page.get_by_label("How much").fill("1.5")
        page.keyboard.press("Enter")
        expect(page.locator("li[data-kind=oil]")).to_have_count(2)
        expect(page.get_by_label("How much")).to_have_count(0)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 61.5)
        page.route(ACTS, lambda route: route.abort())
        page.keyboard.press("Space")
        expect(page.get_by_text("Do not reload or close this page")).to_be_visible()

    def test_two_windows_send_one_queue_once_and_call_nothing_not_taken(self) -> None:
        there = self.base.replace("127.0.0.1", ELSEWHERE)
        page = self.window(there)
        number = self.batch()
        self.open(number, page)
        other = self._heard_from(page.context.new_page())
        other.goto(f"/slab/{number}")
        expect(self.saved(other)).to_be_visible()
        self.assertFalse(page.evaluate("!!navigator.locks"))
        sent: list[str] = []
        away = True

        def told(route: Route) -> None:
            if away:
                return route.abort()
            sent.append(route.request.post_data_json["id"])
            route.continue_()

        for window in (page, other):
            window.route(ACTS, told)
        page.bring_to_front()
        for n, amount in enumerate(("1", "2", "3")):
            page.keyboard.press("p")
            page.get_by_label("How much").fill(amount)
            page.keyboard.press("Enter")
            expect(page.get_by_label("How much")).to_have_count(0)
            waits = "1 act waits" if n == 0 else f"{n + 1} acts wait"
            expect(page.get_by_role("status").filter(has_text=waits)).to_be_visible()

        away = False
        expect(self.saved(page)).to_be_visible()
        expect(self.saved(other)).to_be_visible()
        for window in (page, other):
            expect(window.get_by_role("alert", name="Not taken")).to_have_count(0)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 66)
        self.assertEqual((len(sent), len(set(sent))), (3, 3))


class AnotherJob(SlabTest):
    def test_an_act_whose_batch_is_another_now_is_asked_about(self) -> None:
        number, right = self.batch(), self.batch()
        page = self.open(number)
        page.route(ACTS, lambda route: route.abort())
        page.keyboard.press("p")
        page.get_by_label("How much").fill("4")
        page.keyboard.press("Enter")
        expect(page.locator("[data-part=offline]")).to_be_visible()
        # As after restoring an older backup: another batch has its number.
        with self.database.session() as session:
            changed = text("update job set request_id = gen_random_uuid() where room = 'slab' and number = :number")
            session.execute(changed, {"number": number})
        page.unroute(ACTS)
        told = page.get_by_role("alert", name="Not taken")
        expect(told).to_contain_text("Which batch is it of?")
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 60)
        told.get_by_role("button", name="Which batch?").click()
        told.get_by_role("button", name="Send it there").click()
        expect(told).to_contain_text("the number of the batch it belongs to")
        told.get_by_label("Number of the batch").fill(str(right))
        told.get_by_role("button", name="Send it there").click()
        expect(told).to_have_count(0)
        page.goto(f"/slab/{right}")
        expect(page.locator("li[data-kind=oil]")).to_have_count(2)
        self.assertAlmostEqual(self.state(right)["oil"]["in_g"], 64)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 60)


KEPT_PICTURE = """async () => {
  const db = await new Promise((done) => {
    const asked = indexedDB.open('niddy')
    asked.onsuccess = () => done(asked.result)
  })
  const [waiting] = await new Promise((done) => {
    const asked = db.transaction('waiting').objectStore('waiting').getAll()
    asked.onsuccess = () => done(asked.result)
  })
  db.close()
  const bitmap = await createImageBitmap(waiting.picture)
  return { bytes: waiting.picture.size, width: bitmap.width, height: bitmap.height }
}"""


class Pictures(SlabTest):
    def test_a_large_picture_is_scaled_before_it_is_kept_and_sent(self) -> None:
        number = self.batch()
        page = self.open(number)
        large = io.BytesIO()
        Image.effect_noise((4000, 3000), 60).convert("RGB").save(large, "JPEG", quality=92)
        page.route(re.compile("/photos/"), lambda route: route.abort())
        page.locator("input[type=file]").first.set_input_files(
            {"name": "paste.jpg", "mimeType": "image/jpeg", "buffer": large.getvalue()}
        )
        expect(page.locator("[data-part=offline]")).to_be_visible()
        kept = page.evaluate(KEPT_PICTURE)
        self.assertEqual((kept["width"], kept["height"]), (2400, 1800))
        self.assertLess(kept["bytes"], len(large.getvalue()) / 2)
        page.unroute(re.compile("/photos/"))
        expect(page.locator("li[data-kind=photo]")).to_be_visible()


class Focus(SlabTest):
    def test_a_focused_control_gets_its_own_enter_and_space(self) -> None:
        number = self.batch()
        page = self.open(number)
        acts = len(self.state(number)["timeline"])
        look = page.get_by_role("group", name="Acts").get_by_role("button", name="Look")
        look.focus()
        page.keyboard.press("Enter")
        expect(page.get_by_role("heading", name="What do you see?")).to_be_visible()
        page.keyboard.press("Escape")
        page.get_by_role("link", name="Batch page").focus()
        page.keyboard.press(" ")
        page.keyboard.press("Enter")
        expect(page).to_have_url(re.compile(rf"/batches/{number}$"))
        self.assertEqual(len(self.state(number)["timeline"]), acts)

    def test_letters_can_be_switched_off_on_a_device(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.keyboard.press("?")
        page.get_by_role("dialog").get_by_label("Letters, figures and space act").uncheck()
        page.get_by_role("dialog").get_by_role("button", name="Close").click()
        for key in ("p", "Space", "3"):
            page.keyboard.press(key)
        expect(page.get_by_label("How much")).to_have_count(0)
        self.assertEqual(self.state(number)["timeline"][-1]["kind"], "look")
        page.reload()
        expect(self.saved(page)).to_be_visible()
        page.keyboard.press("l")
        expect(page.get_by_role("heading", name="What do you see?")).to_have_count(0)


class CameLate(SlabTest):
    def test_an_act_of_a_device_that_was_away_is_decided_on(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.route(ACTS, lambda route: route.abort())
        page.keyboard.press("p")
        page.get_by_label("How much").fill("3")
        page.keyboard.press("Enter")
        expect(page.locator("[data-part=offline]")).to_be_visible()
        self.ok(self.act(number, "look", stage="even_paste", body="tube"))
        self.ok(self.act(number, "finish", verdict="right", tubes=[], leftover_ml=20.0))
        page.unroute(ACTS)
        late = page.get_by_role("region", name="Came late")
        expect(late).to_contain_text("poured (3 g)")
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 60)
        page.goto("/")
        page.get_by_role("link", name=re.compile(f"batch {number}: 1 act")).click()
        late.get_by_role("button", name="Leave it out").click()
        expect(late.get_by_role("alert")).to_contain_text("why it is left out")
        late.get_by_role("button", name="Take it in").click()
        expect(late).to_have_count(0)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 63)
        page.goto(f"/batches/{number}")
        expect(page.get_by_text("came late").first).to_be_visible()


class WithoutNetwork(SlabTest):
    def test_a_reload_at_the_slab_goes_on(self) -> None:
        number = self.batch()
        page = self.window(service_workers="allow")
        self.open(number, page)
        page.evaluate("navigator.serviceWorker.ready")
        # What the worker has not seen it cannot give: the page is opened once more under it.
        page.reload()
        expect(self.saved(page)).to_be_visible()
        page.context.set_offline(True)
        page.reload()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Bone black")
        page.keyboard.press("p")
        page.get_by_label("How much").fill("2")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").filter(has_text="1 act waits")).to_be_visible()
        expect(page.get_by_text("Do not reload or close this page")).to_have_count(0)
        page.context.set_offline(False)
        expect(self.saved(page)).to_be_visible()
        self.assertEqual(self.state(number)["timeline"][-1]["source"], OIL)
