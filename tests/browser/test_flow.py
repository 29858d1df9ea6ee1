"""The drawn flow of blocks: picking, exchanging, inserting and removing, by mouse and by keys."""

import re
from typing import ClassVar

from playwright.sync_api import expect
from workshop.models import Design

from .base import Browsing


class Flow(Browsing):
    def keys(self, *names: str) -> None:
        for name in names:
            self.page.keyboard.press(name)

    def focused(self) -> str:
        return str(self.page.evaluate("document.activeElement.getAttribute('aria-label')"))

    def test_one_tab_stop_and_arrows_go_along_blocks_and_joins(self) -> None:
        self.open()
        flow = self.page.get_by_role("group", name="Flow of blocks", exact=True)
        self.assertEqual(flow.locator('[data-box][tabindex="0"]').count(), 1)
        self.block("Input").focus()
        self.keys("ArrowRight")
        self.assertTrue(self.focused().startswith("Drive: MOSFET"))
        self.keys("Alt+ArrowRight")
        self.assertTrue(self.focused().startswith("Between MOSFET and Freewheel"))
        self.keys("ArrowLeft")
        self.assertTrue(self.focused().startswith("Drive: MOSFET"))

    def test_a_guard_is_inserted_in_a_join_and_taken_out_again(self) -> None:
        self.open()
        joins = self.value("joins")
        self.block("Drive").focus()
        self.keys("Alt+ArrowRight", "Enter")
        choice = self.around("after").get_by_role("button", name=re.compile("Back-feed"))
        choice.focus()
        self.keys("Enter")
        self.see("If tried")
        self.assertEqual(self.value("joins"), joins)
        self.keys("Enter")
        self.wait_for_value("blocks.b5.kind", "back_feed")
        self.page.locator("[data-box]", has_text="Back-feed").focus()
        self.keys("Delete")
        self.see(re.compile("gone D2"))
        self.assertEqual(self.value("blocks.b5.kind"), "back_feed")
        self.button(re.compile("^Take it out")).click()
        self.wait_for_value("joins", joins)

    def test_what_is_left_is_as_it_was(self) -> None:
        self.open()
        self.block("Drive").click()
        choice = self.around("instead").get_by_role("button", name=re.compile("P-MOSFET, high side"))
        choice.click()
        self.see("If tried")
        self.button(re.compile("^Leave it")).click()
        expect(self.page.get_by_role("heading", name="Verdicts")).to_be_visible()
        self.keys("Escape")
        expect(self.page.get_by_role("region", name=re.compile("^Around"))).to_be_hidden()
        self.assertEqual(self.value("blocks.b2.kind"), "nmos_low_side")

    def test_without_its_drive_a_design_waits_and_says_for_what(self) -> None:
        self.open()
        self.block("Drive").focus()
        self.keys("Delete")
        self.button(re.compile("^Take it out")).click()
        self.see("It waits until the design is whole.")
        self.see(re.compile("Logic pin leads nowhere yet"))
        self.page.locator("body").click(position={"x": 700, "y": 300})
        self.keys("Control+z")
        self.block("Drive").wait_for()


class UprightFlow(Browsing):
    size: ClassVar[tuple[int, int]] = (390, 844)

    def test_on_a_phone_blocks_stand_upright_with_what_can_be_done(self) -> None:
        self.open()
        flow = self.page.get_by_role("list", name="Flow of blocks, upright")
        flow.get_by_role("button", name=re.compile("MOSFET")).first.click()
        self.button("After", exact=True).click()
        self.around("after").get_by_role("button", name=re.compile("Diode across")).click()
        self.button(re.compile("^Insert")).click()
        self.wait_for_value("blocks.b5.kind", "across_switch")


class Channels(Browsing):
    """One of several channels is open; alike ones are edited as one."""

    def loads(self) -> list[object]:
        blocks = self.value("blocks")
        assert isinstance(blocks, dict)
        return [b["resistance"] for b in blocks.values() if b["kind"] == "resistive"]

    def wait_for_loads(self, *wanted: float) -> None:
        for _ in range(100):
            if self.loads() == list(wanted):
                return
            self.page.wait_for_timeout(50)
        self.assertEqual(self.loads(), list(wanted))

    def test_alike_channels_are_edited_as_one_and_told_apart(self) -> None:
        self.fan = Design.objects.get(name="Flat-panel selector")
        self.open("load")
        chooser = self.page.get_by_role("region", name="Channels")
        expect(chooser).to_contain_text("You edit 1, 2 and 3 at once.")
        chooser.get_by_role("button", name=re.compile("Panel 3")).click()
        self.button("Tell 3 apart").click()
        expect(chooser).to_contain_text("3 stands by itself")
        self.button(re.compile("22 Ω. Change it")).click()
        field = self.page.locator(".sentence input")
        field.fill("33")
        field.press("Enter")
        self.wait_for_loads(22.0, 22.0, 33.0)
        expect(chooser).to_contain_text("resistance 33 Ω")
        self.button("All alike").click()
        expect(chooser).to_contain_text("Overwrites")
        self.button("Make them alike").click()
        self.wait_for_loads(33.0, 33.0, 33.0)

    def test_shift_and_a_digit_open_a_channel(self) -> None:
        self.fan = Design.objects.get(name="Flat-panel selector")
        self.open("drive")
        self.button("Open channel 3, Panel 3 22 Ω").click()
        self.page.keyboard.press("Shift+Digit2")
        self.button("Open channel 1, Panel 1 22 Ω").wait_for()
        expect(self.page.get_by_role("button", name=re.compile("2 Panel 2 ?22 Ω"))).to_have_attribute(
            "aria-pressed", "true"
        )
