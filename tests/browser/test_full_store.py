"""A browser whose storage is full: what waits goes out all the same, and what finds no room is told at once."""

import re

from playwright.sync_api import expect

from tests.browser.test_nothing_lost import ACTS
from tests.browser.test_slab import SlabTest

FULL = """() => {
  for (const method of ['add', 'put']) {
    const real = IDBObjectStore.prototype[method]
    window[`real_${method}`] = real
    IDBObjectStore.prototype[method] = function () { throw new DOMException('full', 'QuotaExceededError') }
  }
}"""
ROOM_AGAIN = "() => { for (const m of ['add', 'put']) IDBObjectStore.prototype[m] = window[`real_${m}`] }"


class FullStore(SlabTest):
    def test_what_waits_is_sent_and_what_finds_no_room_is_told(self) -> None:
        number = self.batch()
        page = self.open(number)
        page.route(ACTS, lambda route: route.abort())
        page.keyboard.press("p")
        page.get_by_label("How much").fill("1")
        page.keyboard.press("Enter")
        expect(page.get_by_role("status").filter(has_text="1 act waits")).to_be_visible()
        expect(page.get_by_label("How much")).to_have_count(0)
        page.evaluate(FULL)
        page.keyboard.press("p")
        page.get_by_label("How much").fill("2")
        page.keyboard.press("Enter")
        expect(page.get_by_role("alert").first).to_contain_text(re.compile("no room to keep it", re.I))
        expect(page.get_by_label("How much")).to_have_value("2")
        page.unroute(ACTS)
        expect(self.saved(page)).to_be_visible()
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 61)
        page.evaluate(ROOM_AGAIN)
        page.get_by_label("How much").press("Enter")
        expect(page.locator("li[data-kind=oil]")).to_have_count(3)
        self.assertAlmostEqual(self.state(number)["oil"]["in_g"], 63)
