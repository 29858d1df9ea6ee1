"""One Chromium for the whole process, a fresh page a test, and the real interface driven by role
and label.
"""

import os
import re
import tempfile
from pathlib import Path
from typing import ClassVar

os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")

from django.contrib.staticfiles.testing import StaticLiveServerTestCase
from django.core.management import call_command
from playwright.sync_api import Browser, Locator, Page, Playwright, sync_playwright
from workshop.models import Design

CHROMIUM = "/usr/bin/chromium"
FLAGS = [
    "--headless",
    "--no-sandbox",
    "--disable-gpu",
    "--disable-quic",
    "--no-first-run",
    "--disable-background-networking",
    "--disable-component-update",
    "--disable-sync",
]
ROOT = Path(__file__).resolve().parent.parent.parent


class Driver:
    """The process's browser, started when first wanted."""

    playwright: Playwright | None = None
    browser: Browser | None = None

    @classmethod
    def get(cls) -> Browser:
        if cls.browser is None:
            cls.playwright = sync_playwright().start()
            cls.browser = cls.playwright.chromium.launch(executable_path=CHROMIUM, args=FLAGS)
        return cls.browser


class Browsing(StaticLiveServerTestCase):
    """A served shed and a page; a test fails when the page logs an error."""

    size: ClassVar[tuple[int, int]] = (1280, 800)
    allowed = re.compile(r"status of (4\d\d)|ERR_")

    def setUp(self) -> None:
        call_command("load_demo", verbosity=0)
        self.fan = Design.objects.get(name="Roof-vent fan relay")
        self.context = Driver.get().new_context(
            viewport={"width": self.size[0], "height": self.size[1]}, bypass_csp=True, accept_downloads=True
        )
        self.page = self.fresh_page()

    def fresh_page(self) -> Page:
        page = self.context.new_page()
        page.set_default_timeout(15_000)
        self.errors: list[str] = []
        page.on(
            "console",
            lambda m: (
                self.errors.append(m.text) if m.type == "error" and not self.allowed.search(m.text) else None
            ),
        )
        page.on("pageerror", lambda e: self.errors.append(str(e)))
        return page

    def tearDown(self) -> None:
        self.context.close()
        self.assertEqual(self.errors, [])

    def open(self, facet: str = "drive", query: str = "") -> None:
        self.page.goto(f"{self.live_server_url}/design/{self.fan.id}/{facet}{query}")
        self.page.get_by_role(
            "heading", name="Rehearsal" if self.size[0] > 800 else "", exact=False
        ).first.wait_for()

    def button(self, name: str | re.Pattern[str], exact: bool = False) -> Locator:
        return self.page.get_by_role("button", name=name, exact=exact)

    def verdict(self, title: str) -> Locator:
        return self.page.locator("li.verdict", has=self.page.get_by_text(title, exact=True))

    def block(self, role: str) -> Locator:
        """The first block of a role in the drawn flow."""
        flow = self.page.get_by_role("group", name="Flow of blocks", exact=True)
        return flow.get_by_role("button", name=re.compile(f"^{role}: ")).first

    def around(self, where: str) -> Locator:
        """A place around the picked block, with everything that is offered there."""
        place = self.page.locator(f'.place[data-where="{where}"]')
        place.wait_for()
        more = place.get_by_role("button", name=re.compile(r"^\d+ more$"))
        if more.count():
            more.click()
        return place

    def exchange(self, role: str, title: str) -> None:
        """Pick the first block of a role and take another kind in its place."""
        self.block(role).click()
        self.around("instead").get_by_role("button", name=re.compile(rf"\b{title}")).click()
        self.button(re.compile("^Exchange")).click()

    def see(self, text: str | re.Pattern[str]) -> None:
        self.page.get_by_text(text).first.wait_for()

    def value(self, path: str) -> object:
        self.fan.refresh_from_db()
        data: object = self.fan.revision.document
        for step in path.split("."):
            data = data[int(step)] if isinstance(data, list) else data.get(step)  # type: ignore[attr-defined]
            if data is None:
                return None
        return data

    def wait_for_value(self, path: str, wanted: object) -> None:
        for _ in range(100):
            if self.value(path) == wanted:
                return
            self.page.wait_for_timeout(50)
        self.assertEqual(self.value(path), wanted)

    def file(self, text: str, name: str = "design.json") -> str:
        folder = tempfile.mkdtemp()
        path = Path(folder, name)
        path.write_text(text, "utf-8")
        return str(path)
