"""The day on real screens: what is on it, moved by keys, put on and off, hours, cleaning, calendar, paper."""

import re
from uuid import uuid4

from playwright.sync_api import expect

from tests.browser.support import BrowserTest
from tests.support import now_iso


class TheDay(BrowserTest):
    def test_a_day_is_filled_moved_and_emptied(self) -> None:
        page = self.page
        page.goto("/day")
        day = page.get_by_role("region", name=re.compile("Today, Thursday 18 June"))
        lines = day.get_by_role("list").first
        expect(lines).to_contain_text("on the slab now")
        expect(lines).to_contain_text("break until 13:00")
        handle = day.get_by_role("button", name=re.compile("^Move Viridian"))
        handle.focus()
        page.keyboard.press("ArrowDown")
        told = day.get_by_role("status").filter(has_text="Moved:")
        expect(told).to_contain_text("min of cleaning")
        expect(day.get_by_text("Your own order")).to_be_visible()
        page.get_by_role("button", name="Least cleaning").click()
        expect(day.get_by_text("Your own order")).to_have_count(0)
        expect(day.get_by_text("the one with the least cleaning")).to_be_visible()
        day.get_by_role("button", name=re.compile("^Cleaning:.*Open the working")).click()
        expect(day.get_by_role("heading", name="How cleaning was got")).to_be_visible()
        page.keyboard.press("Escape")

        page.get_by_role("button", name="Put something on the day").click()
        page.get_by_role("button", name=re.compile("Cake of Window can")).click()
        mine = day.get_by_role("listitem").filter(has_text="grind the cake")
        expect(mine.first).to_be_visible()
        page.get_by_role("button", name="Close", exact=True).click()
        viridian = day.get_by_role("listitem").filter(has_text="Viridian")
        viridian.get_by_role("button", name=re.compile("How long")).click()
        viridian.get_by_label("Minutes it takes").fill("600")
        viridian.get_by_role("button", name="Keep").click()
        left = day.get_by_role("region", name="Does not fit")
        expect(left).to_contain_text("longer than any stretch of the day")
        left.get_by_role("listitem").filter(has_text="Viridian").get_by_role("button", name="Take off").click()
        expect(day.get_by_text("Viridian")).to_have_count(0)
        self.assert_accessible(page, "the day")

        lines.get_by_role("link", name=re.compile("go on with Quinacridone")).click()
        expect(page).to_have_url(re.compile("/slab/32$"))

    def test_hours_are_set_and_nonsense_is_refused_beside_them(self) -> None:
        page = self.page
        page.goto("/day/2026-06-20")
        expect(page.get_by_text("Nothing is on this day yet.").last).to_be_visible()
        page.get_by_role("button", name="Change the hours").click()
        page.get_by_label("To", exact=True).fill("08:00")
        page.get_by_role("button", name="Keep these hours").click()
        expect(page.get_by_role("alert")).to_contain_text("The day ends before it begins")
        page.get_by_label("To", exact=True).fill("18:30")
        page.get_by_role("button", name="Another break").click()
        page.get_by_label("Break from").nth(1).fill("20:00")
        page.get_by_label("to", exact=True).nth(1).fill("20:15")
        page.get_by_role("button", name="Keep these hours").click()
        expect(page.get_by_role("alert")).to_contain_text("The break is not within the day")
        page.get_by_role("button", name="No break").nth(1).click()
        page.get_by_label("Slabs").select_option("2")
        page.get_by_role("button", name="Keep these hours").click()
        expect(page.get_by_text(re.compile("09:00 to 18:30, 2 slabs"))).to_be_visible()
        page.get_by_role("link", name="The day after").click()
        expect(page.get_by_role("heading", level=1)).to_contain_text("Sunday 21 June")
        expect(page.get_by_text(re.compile("09:00 to 18:30, 2 slabs"))).to_be_visible()

    def test_a_finished_batch_ticks_its_job_off_and_one_tap_notes_the_cleaning(self) -> None:
        page = self.page
        asked = {
            "lines": [{"pigment_key": "mars-yellow", "parts": 1.0}],
            "oil": {"oil_key": "linseed-refined"},
            "reduced_pvc": 0.86,
            "pigment_g": 30.0,
        }
        self.ok(self.client.post("/api/plan/saved", json={"name": "Yellow for the door", "plan": asked}))
        page.goto("/day")
        page.get_by_role("button", name="Put something on the day").click()
        page.get_by_role("button", name=re.compile("Yellow for the door")).click()
        page.get_by_role("listitem").filter(has_text="Yellow for the door").get_by_role("link").first.click()
        page.get_by_role("button", name=re.compile("Take it to the slab|To the slab")).first.click()
        expect(page).to_have_url(re.compile(r"/slab/\d+$"))
        number = int(page.url.rsplit("/", 1)[1])

        def act(kind: str, **what: object) -> None:
            said = {"id": str(uuid4()), "kind": kind, "made_at": now_iso(), **what}
            self.ok(self.client.post(f"/api/slab/{number}/acts", json=said))

        act("ready")
        act("powder", source="library-mars-yellow", measure={"amount": 30.0})
        act("oil", source="library-linseed-refined", measure={"amount": 15.0})
        page.goto("/day")
        expect(page.get_by_role("listitem").filter(has_text="Yellow for the door").first).to_contain_text("on the slab")
        act("finish", verdict="right")
        page.goto(f"/batches/{number}")
        # It comes with what stands above it, so that nothing moves under the finger.
        expect(page.get_by_role("button", name="The slab is clean now")).to_be_visible()
        self.assertEqual(page.get_by_role("button", name="into Window can").count(), 1)
        page.get_by_role("button", name="The slab is clean now").click()
        # The clock of the tests stands still: nobody cleans in no time, so the minutes are asked for.
        expect(page.get_by_role("alert").filter(has_text="the minutes it took, from 1 to 180")).to_be_visible()
        page.get_by_label("Minutes it took").fill("500")
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_role("alert").filter(has_text="500 is too much")).to_be_visible()
        page.get_by_label("Minutes it took").fill("14")
        page.get_by_role("button", name="Note it").click()
        expect(page.get_by_role("status").filter(has_text="Noted: cleaning took 14 min")).to_be_visible()
        page.goto("/day")
        done = page.get_by_role("list", name="Done of what was put on")
        expect(done).to_contain_text("Yellow for the door, done")
        expect(page.get_by_role("region", name="Done today")).to_contain_text(f"batch {number}")

    def test_the_calendar_is_a_file_and_a_feed_and_the_day_prints(self) -> None:
        page = self.page
        page.goto("/day")
        with page.expect_download() as download:
            page.get_by_role("link", name="Calendar file").click()
        self.assertTrue(download.value.suggested_filename.endswith(".ics"))
        page.get_by_role("button", name="For a phone").click()
        told = page.get_by_label("Address of the calendar")
        first = told.inner_text()
        self.assertIn("BEGIN:VCALENDAR", self.client.get(first).text)
        page.get_by_role("button", name=re.compile("A new address")).click()
        expect(told).not_to_have_text(first)
        self.assertEqual(self.client.get(first).status_code, 404)
        page.emulate_media(media="print")
        sheet = page.get_by_role("article", name="Day for printing")
        expect(sheet).to_be_visible()
        expect(sheet).to_contain_text("break until 13:00")
        expect(page.get_by_role("button", name="Print the day")).to_be_hidden()


class OnAPhone(BrowserTest):
    size = {"width": 390, "height": 844}

    def test_the_day_fits_a_phone(self) -> None:
        self.page.goto("/day")
        expect(self.page.get_by_role("heading", name=re.compile("Today, Thursday"))).to_be_visible()
        self.page.get_by_role("button", name="Put something on the day").click()
        expect(self.page.get_by_role("heading", name="Recipes again")).to_be_visible()
        self.assert_fits(self.page, "the day at 390")
        self.assert_accessible(self.page, "the day at 390")
