"""Signing in as people do: a label's address, a shared tablet, a phone, a looker, somebody removed."""

import re
import socket
from io import BytesIO

import zxingcpp
from PIL import Image
from playwright.sync_api import Page, expect
from pydantic import SecretStr
from sqlalchemy import text

from niddy.core.makers import MakerRole
from niddy.studio import makers
from niddy.studio.makers import NewMaker
from tests.browser.support import BrowserTest
from tests.support import NOW

PASSWORD = "umber and linseed"


class OnTheNetwork(BrowserTest):
    with_demo = True
    host = "localhost"
    signs_in = False

    @classmethod
    def setUpClass(cls) -> None:
        super().setUpClass()
        for name, role in (("Ada Marsh", MakerRole.OWNER), ("Bo", MakerRole.MAKER), ("Lu", MakerRole.LOOKER)):
            made = makers.add(cls.database, NOW, NewMaker(name=name, role=role, password=SecretStr(PASSWORD)))
            if name == "Bo":
                makers.set_pin(cls.database, made, "2580", PASSWORD)

    def sign_in_as(self, page: Page, name: str, *, shared: bool = False) -> None:
        page.get_by_label("Name").fill(name)
        page.get_by_label("Password").fill(PASSWORD)
        if shared:
            page.get_by_label("Several of us use this device").check()
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("button", name=f"{name} is signed in")).to_be_visible()

    def test_a_label_s_code_asks_to_sign_in_and_then_opens_and_acts_carry_initials(self) -> None:
        page = self.page
        page.goto("/slab/32")
        page.get_by_label("Name").fill("Bo")
        page.get_by_label("Password").fill("not it at all")
        page.get_by_role("button", name="Sign in").click()
        expect(page.get_by_role("alert")).to_contain_text("do not go together")
        self.sign_in_as(page, "Bo", shared=True)
        expect(page.get_by_role("heading", name="Quinacridone magenta")).to_be_visible()
        page.get_by_role("button", name="Go on", exact=True).first.click()
        line = page.locator("#main li[data-kind]").first
        expect(line.get_by_title("made by BO")).to_be_visible()

    def test_a_tablet_changes_hands_by_pin(self) -> None:
        page = self.page
        page.goto("/batches")
        self.sign_in_as(page, "Ada Marsh", shared=True)
        page.get_by_role("button", name="Ada Marsh is signed in").click()
        page.get_by_role("button", name="Bo takes over").click()
        for pin in ("1357", "2580"):
            for key in pin:
                page.get_by_role("button", name=key, exact=True).click()
            page.get_by_role("button", name="Go", exact=True).click()
            if pin == "1357":
                expect(page.get_by_role("alert")).to_contain_text("Not that maker's PIN")
        expect(page.get_by_role("button", name="Bo is signed in")).to_be_visible()
        page.goto("/makers")
        expect(page.get_by_role("button", name="Add a maker")).to_have_count(0)

    def test_a_phone_reads_the_code_and_is_in_once(self) -> None:
        page = self.page
        page.goto("/")
        self.sign_in_as(page, "Ada Marsh")
        page.get_by_role("button", name="Ada Marsh is signed in").click()
        page.get_by_role("button", name="Pair a phone").click()
        shot = page.get_by_alt_text("Code for a phone").screenshot()
        address = zxingcpp.read_barcodes(Image.open(BytesIO(shot)))[0].text
        self.assertRegex(address, r"^http://localhost:\d+/pair#")
        path = re.sub(r"^http://localhost:\d+", "", address)
        screen = self.window()
        screen.goto(path)
        expect(screen.get_by_role("button", name="Ada Marsh is signed in")).to_be_visible()
        expect(screen).to_have_url(re.compile(r"/$"))
        late = self.window()
        late.goto(path)
        expect(late.get_by_role("alert")).to_contain_text("used already")
        page.goto("/makers")
        paired = page.get_by_role("listitem").filter(has_text="paired by a code")
        paired.get_by_role("button", name=re.compile("^Sign out")).click()
        expect(paired).to_have_count(0)
        screen.goto("/batches")
        expect(screen.get_by_role("heading", name="Sign in")).to_be_visible()

    def test_a_looker_is_told_and_a_removed_maker_signs_in_no_more(self) -> None:
        page = self.page
        page.goto("/workshop")
        self.sign_in_as(page, "Lu")
        page.get_by_role("button", name="Keep the settings").click()
        expect(page.get_by_role("alert").filter(has_text="ask an owner").first).to_be_visible()
        owner = self.window()
        owner.goto("/makers")
        self.sign_in_as(owner, "Ada Marsh")
        owner.get_by_role("button", name="Add a maker").click()
        owner.get_by_label("Name to sign in with").fill("bo")
        owner.get_by_label("First password; they change it themselves").fill("short")
        owner.get_by_role("button", name="Keep", exact=True).click()
        expect(owner.get_by_role("alert").filter(has_text="Somebody here has this name")).to_be_visible()
        owner.get_by_role("button", name="Cancel").click()
        owner.get_by_role("button", name="Remove Lu").click()
        owner.get_by_role("button", name="Yes, remove Lu").click()
        expect(owner.get_by_role("button", name="Remove Lu")).to_have_count(0)
        page.goto("/batches")
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()

    def test_what_waited_goes_out_under_the_name_of_whoever_made_it(self) -> None:
        page = self.page
        page.goto("/slab/32")
        self.sign_in_as(page, "Bo")
        expect(page.get_by_role("heading", name="Quinacridone magenta")).to_be_visible()
        page.context.set_offline(True)
        # Starts or stops the muller, whichever it was doing.
        page.keyboard.press("Space")
        expect(page.get_by_text("1 act waits").or_(page.get_by_text("waits here")).first).to_be_visible()
        with self.database.session() as session:
            session.execute(text("update maker_session set ended_at = began_at"))
            before = session.scalar(text("select count(*) from act"))
        page.context.set_offline(False)
        expect(page.get_by_role("heading", name="Sign in")).to_be_visible()
        self.sign_in_as(page, "Ada Marsh")
        page.wait_for_timeout(4_000)
        with self.database.session() as session:
            self.assertEqual(session.scalar(text("select count(*) from act")), before)
        page.get_by_role("button", name="Ada Marsh is signed in").click()
        page.get_by_role("button", name="Sign out").click()
        self.sign_in_as(page, "Bo")
        made = text(
            "select m.name from act join maker m on m.id = act.maker_id order by recorded_at desc, seq desc limit 1"
        )
        for _ in range(60):
            with self.database.session() as session:
                if session.scalar(text("select count(*) from act")) == (before or 0) + 1:
                    self.assertEqual(session.scalar(made), "Bo")
                    return
            page.wait_for_timeout(500)
        self.fail("it never went out")


def network_address() -> str:
    """This machine's own address on its network; loopback's second name where it has none."""
    with socket.socket(socket.AF_INET, socket.SOCK_DGRAM) as probe:
        try:
            # Nothing is sent: only the way out is looked up.
            probe.connect(("192.0.2.1", 9))
            return str(probe.getsockname()[0])
        except OSError:
            return "127.0.0.2"


class TwoDevices:
    """Two devices on the network address: what one logs, the other shows within two seconds."""

    def test_an_act_of_one_is_seen_on_the_other_within_two_seconds(self) -> None:
        assert isinstance(self, BrowserTest)
        windows = [self.window() for _ in range(2)]
        for page in windows:
            page.goto("/slab/32")
            expect(page.get_by_role("heading", level=1)).to_contain_text("Quinacridone magenta")
            page.wait_for_function("performance.getEntriesByType('resource').length > 0")
        one, other = windows
        # Both listen before anything is said.
        for page in windows:
            expect(page.get_by_text("saved", exact=False).first).to_be_visible()
        before = other.locator("#main li[data-kind]").count()
        one.get_by_role("button", name="Go on", exact=True).first.click()
        expect(other.locator("#main li[data-kind]")).not_to_have_count(before, timeout=2_000)


class OverHttp(TwoDevices, BrowserTest):
    with_demo = True
    host = listens = network_address()


class OverHttps(TwoDevices, BrowserTest):
    with_demo = True
    scheme = "https"
    host = listens = network_address()
