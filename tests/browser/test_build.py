"""The board's plan on the screen: lit by step, moved by hand and by keys, proven, kept, printed."""

import re

from notebook.models import KeptPlan
from playwright.sync_api import Locator
from workshop.models import Design

from .base import Browsing

PROVEN = "Proven"


class Building(Browsing):
    def named(self, name: str) -> None:
        self.fan = Design.objects.get(name=name)

    def map(self) -> Locator:
        return self.page.get_by_role("group", name=re.compile("^Strip map: "))

    def step(self, title: str) -> None:
        steps = self.page.get_by_role("navigation", name="Build steps")
        steps.get_by_role("button", name=re.compile(title)).first.click()

    def test_a_step_lights_its_part_and_names_its_seats(self) -> None:
        self.open("build")
        self.see(PROVEN)
        self.step("Q1: gate, drain, source")
        seats = self.page.locator("dl.seats")
        self.assertRegex(seats.inner_text(), r"gate\s+\d+ [a-j]\s+drain\s+\d+ [a-j]\s+source\s+\d+ [a-j]")
        self.map().locator(".part.now").wait_for()
        self.assertEqual(self.map().locator(".strip.now").count(), 3)

    def test_a_strip_says_its_net_and_what_stands_on_it(self) -> None:
        self.open("build")
        self.see(PROVEN)
        self.map().focus()
        for _ in range(4):
            self.page.keyboard.press("ArrowRight")
        told = self.map().locator(".tells")
        self.page.wait_for_function(
            "() => /drain strip, \\d/.test(document.querySelector('.tells').textContent)"
        )
        self.assertIn("strip 4 a to e", told.inner_text())

    def test_a_plan_comes_at_once_gets_better_and_is_kept_with_the_first_step(self) -> None:
        self.named("Red map light")
        self.open("build")
        self.page.locator(".tells", has_text="none fewer is possible").wait_for()
        self.see(PROVEN)
        self.assertEqual(self.fan.plans.count(), 0)
        self.page.keyboard.press("Enter")
        self.see(re.compile("^1 of \\d+ done"))
        self.assertEqual(self.fan.plans.count(), 1)
        self.page.reload()
        self.see(re.compile("^1 of \\d+ done"))
        self.see(PROVEN)
        self.button("Plan anew").click()
        self.page.locator(".tells", has_text="none fewer is possible").wait_for()
        self.assertEqual(self.fan.plans.count(), 0)

    def test_a_part_moved_by_keys_is_proven_and_mended_round(self) -> None:
        self.open("build")
        self.see(PROVEN)
        self.map().locator(".part", has=self.page.locator(".body")).nth(2).dispatch_event(
            "pointerdown", {"pointerId": 1}
        )
        self.map().dispatch_event("pointerup", {"pointerId": 1})
        self.see("Drag it, or move it with the arrows.")
        self.map().focus()
        self.page.keyboard.press("ArrowDown")
        self.page.keyboard.press("ArrowRight")
        alert = self.page.get_by_role("alert")
        alert.get_by_text(re.compile("joined")).first.wait_for()
        self.see("stays where you put it.")
        self.button("Finish around it").click()
        self.see(PROVEN)
        self.assertEqual(self.page.get_by_role("alert").count(), 0)
        self.assertTrue(KeptPlan.objects.filter(design=self.fan).first().plan["pinned"])  # type: ignore[union-attr]
        self.button("Undo move").click()
        alert.get_by_text(re.compile("joined")).first.wait_for()
        self.page.wait_for_timeout(1500)
        alert.get_by_text(re.compile("joined")).first.wait_for()  # and it is not mended again unasked

    def test_a_part_is_dragged(self) -> None:
        self.open("build")
        self.see(PROVEN)
        body = self.map().locator(".part .body").first
        box = body.bounding_box()
        assert box is not None
        x, y = box["x"] + box["width"] / 2, box["y"] + 3
        self.page.mouse.move(x, y)
        self.page.mouse.down()
        self.page.mouse.move(x + 120, y, steps=6)
        self.page.mouse.up()
        self.page.get_by_role("alert").get_by_text(re.compile("joined")).first.wait_for()

    def test_a_change_of_the_design_mends_the_plan_by_itself(self) -> None:
        """What is built stays: its seats are the same after another kind has come."""
        before = KeptPlan.objects.get(design=self.fan).plan
        self.open("drive")
        self.exchange("Drive", "Bipolar")
        self.page.goto(f"{self.live_server_url}/design/{self.fan.id}/build")
        self.see(PROVEN)
        for _ in range(100):
            if self.fan.plans.count() > 1:
                break
            self.page.wait_for_timeout(50)
        after = KeptPlan.objects.filter(design=self.fan).first().plan  # type: ignore[union-attr]
        was, now = ({p["part"]: p["legs"] for p in plan["placings"]}["b3.diode"] for plan in (before, after))
        self.assertEqual([leg["seat"] for leg in was], [leg["seat"] for leg in now])

    def test_the_schematic_and_the_map_light_each_other(self) -> None:
        self.open("build")
        self.see(PROVEN)
        self.step("R1, 220")
        self.button("Schematic").click()
        drawing = self.page.get_by_role("group", name="Schematic", exact=True)
        drawing.locator('.symbol[aria-pressed="true"]').wait_for()
        drawing.get_by_role("button", name=re.compile("^(Q1|N-MOSFET)|Q1")).first.click()
        self.map().locator(".part.picked").wait_for()
        self.page.get_by_role("heading", name=re.compile("Q1: gate, drain, source")).wait_for()

    def test_what_would_come_of_a_mistake(self) -> None:
        self.open("build")
        self.step("D1: band")
        self.button("Mistakes").click()
        self.page.get_by_text("The wrong way round").click()
        self.see(re.compile("The supply is shorted"))

    def test_parts_what_would_do_instead_and_what_to_buy(self) -> None:
        self.open("build")
        self.button("Parts list").click()
        row = self.page.get_by_role("row", name=re.compile("^R1 "))
        row.get_by_role("button", name="Instead").click()
        self.page.locator(".instead tr").first.wait_for()
        self.page.locator(".instead").get_by_role("button", name="Take it").first.click()
        self.wait_for_value("blocks.b2.r_gate", 180.0)
        self.page.get_by_text("For other designs too").click()
        self.page.get_by_label("Observer's watchdog").check()
        self.page.get_by_role("region", name="Shopping list").get_by_role("table").wait_for()
        with self.page.expect_download() as found:
            self.page.get_by_role("link", name="Shopping list as CSV").click()
        self.assertEqual(found.value.suggested_filename, "shopping-list.csv")

    def test_boards_that_are_owned(self) -> None:
        self.named("Observer's watchdog")
        self.open("build")
        self.button(re.compile("^Boards: ")).click()
        form = self.page.get_by_role("form", name="Boards you own")
        form.get_by_role("button", name="Remove").last.click()
        form.get_by_label("Rails of board 1").select_option("split")
        form.get_by_role("button", name="Keep").click()
        self.button("Boards: 30").wait_for()
        self.see(PROVEN)


class OnThePhone(Browsing):
    size = (390, 844)

    def test_one_step_a_screen_with_the_map_round_its_seats(self) -> None:
        self.open("build")
        self.page.get_by_role("heading", name=re.compile("D1, by the meter")).wait_for()
        part = self.page.locator(".strip-map .part.now .body")
        part.wait_for()
        box = part.bounding_box()
        assert box is not None
        self.assertGreater(box["width"], 24)
        self.button(re.compile("It reads so")).click()
        steps = self.page.get_by_role("navigation", name="Build steps")
        steps.get_by_text("10 of 17 done").wait_for()


class OnPaper(Browsing):
    def test_the_sheet_is_at_true_scale(self) -> None:
        """Oracle: the seats of thirty positions lie 29 × 2.54 mm apart, 96 pixels an inch."""
        self.open("build")
        self.see(PROVEN)
        self.page.emulate_media(media="print")
        picture = self.page.locator(".bench-sheet img")
        box = picture.bounding_box()
        assert box is not None
        self.assertGreater(box["width"], 29 * 2.54 / 25.4 * 96)
        self.assertLess(box["width"], 45 * 2.54 / 25.4 * 96)
        self.see(re.compile("Print at 100 %"))
