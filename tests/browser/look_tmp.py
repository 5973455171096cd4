import re
from tests.browser.test_slab import SlabTest
from playwright.sync_api import expect


class T(SlabTest):
    def shot(self, name, page=None, full=False):
        (page or self.page).wait_for_timeout(500)
        (page or self.page).screenshot(path=f"/tmp/look/{name}.png", full_page=full)

    def test_it(self):
        page = self.page
        page.goto("/plan")
        self.choose("Pigment", "raw umber")
        self.choose("Oil", "safflower")
        page.get_by_role("button", name="Spoons, drops").click()
        page.get_by_label("Worked with").select_option("knife")
        page.get_by_role("button", name="Spoons on hand").click()
        self.shot("plan", full=True)
        page.get_by_role("button", name="Take it to the slab").click()
        page.wait_for_url(re.compile("/slab/"))
        number = int(page.url.rsplit("/", 1)[1])
        self.shot("kit")
        phone = self.window()
        phone.set_viewport_size({"width": 390, "height": 844})
        phone.goto(page.url)
        self.shot("phone_kit", phone)
        phone.get_by_role("button", name=re.compile("at hand|are ready")).click()
        self.shot("phone_powder", phone)
        phone.get_by_role("button", name=re.compile("^In: ")).click()
        self.shot("phone_pour", phone)
        phone.get_by_role("button", name=re.compile("^Poured")).click()
        self.shot("phone_look", phone)
        self.shot("slab")
        phone.get_by_role("button", name="More").click()
        self.shot("phone_more", phone)
