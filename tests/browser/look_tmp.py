import re
from playwright.sync_api import expect
from tests.browser.support import BrowserTest
class T(BrowserTest):
    def shot(self, path, name, full=True, wait=None):
        p=self.page; p.goto(path); p.wait_for_load_state("networkidle"); p.wait_for_timeout(500)
        p.screenshot(path=f"/tmp/look/{name}.png", full_page=full)
    def test(self):
        self.shot("/sticks","sticks")
        self.shot("/sticks/bases/1","base")
        self.shot("/sticks/bases/beside?of=1&of=2","beside")
        self.shot("/sticks/9","pot")
        self.shot("/sticks/6","trials")
        p=self.page
        p.goto("/sticks/plan"); p.wait_for_timeout(800)
        p.get_by_role("button", name="Give it a pigment").click()
        self.choose("Pigment","Bone black","BB-3")
        p.get_by_role("button", name="Add a colour").click()
        p.get_by_role("button", name="Give it a pigment").click()
        self.choose("Pigment","Lead antimonate","LA-1")
        p.get_by_role("button", name="Add a blending stick").click()
        p.wait_for_timeout(900)
        p.screenshot(path="/tmp/look/plan.png", full_page=True)
