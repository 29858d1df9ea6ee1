"""Loads, presets, long names, no server, and preferences."""

import re

from hexlet_core.design.starts import start
from workshop import actions

from .base import Browsing


class Ways(Browsing):
    def test_another_load_keeps_the_driver(self) -> None:
        self.open("load")
        self.button(re.compile("Heater or resistor")).click()
        self.wait_for_value("blocks.b4.kind", "resistive")
        self.assertEqual(self.value("blocks.b2.r_gate"), 220.0)
        self.page.get_by_role("link", name=re.compile("3 Guard")).click()
        self.see(re.compile("Nothing to do here"))
        self.page.get_by_role("link", name=re.compile("1 Load")).click()
        self.button(re.compile("Relay coil")).click()
        self.wait_for_value("blocks.b4.resistance", 96.0)

    def test_measured_or_not_is_kept(self) -> None:
        self.open("load")
        box = self.page.get_by_label("I measured it").first
        self.assertTrue(box.is_checked())
        box.click()
        self.wait_for_value("origins", {})
        self.page.wait_for_function(
            "!document.querySelector('.measured-row input[type=checkbox]').checked"
        )  # the page has its answer
        field = self.page.get_by_label("Coil resistance: what the meter shows")
        field.fill("98.5")
        field.press("Enter")
        self.wait_for_value("blocks.b4.resistance", 98.5)
        self.wait_for_value("rated", {"blocks.b4.resistance": 96.0})
        self.see("measured; rated")
        self.page.get_by_label("I measured it").first.click()
        self.wait_for_value("blocks.b4.resistance", 96.0)
        self.see("96 Ω coil, 150 mA")

    def test_presets_run_another_script(self) -> None:
        self.open()
        self.page.get_by_label("Script").select_option("Pin boots, then drives")
        self.page.wait_for_function("document.querySelectorAll('.lanes .ruler').length > 4")
        self.see("Reading at")
        self.button("Closer").click()
        self.button("Whole").wait_for()

    def test_verdicts_fold_and_filter(self) -> None:
        self.open("guard")
        self.button(re.compile("more fit, each with over")).click()
        self.verdict("Freewheel diode reverse").wait_for()
        self.button("This facet").click()
        self.verdict("Gate voltage").wait_for(state="hidden")

    def test_leaving_the_pull_down_out_fails_in_words(self) -> None:
        self.open(query="?part=blocks.b2.r_pull")
        self.button("Leave it out").click()
        self.wait_for_value("blocks.b2.r_pull", None)
        self.see("Nothing holds the gate when its lead is lost: a touch may turn it on.")

    def test_resistors_in_the_other_school(self) -> None:
        self.open()
        self.button("Roof-vent fan relay").click()
        self.page.get_by_role("menuitem", name=re.compile("zigzags")).click()
        self.page.locator('.schematic path[d^="M0 -3V-1.8L0.75"]').first.wait_for()

    def test_long_names_are_cut_in_the_middle(self) -> None:
        design = actions.create(
            start("coil"), name="North pier roof-vent fan relay with the spare coil, fourth try"
        )
        self.page.goto(f"{self.live_server_url}/design/{design.id}/drive")
        self.see(re.compile("North pier.* … .*fourth try"))

    def test_without_the_server_what_was_typed_is_kept_and_sent_later(self) -> None:
        self.open()
        self.page.route("**/api/**", lambda route: route.abort())
        self.button(re.compile("measured: 96 Ω")).click()
        field = self.page.get_by_label(re.compile("measured: 96"))
        field.fill("110")
        field.press("Enter")
        self.see("No answer from the server.")
        self.assertEqual(field.input_value(), "110")
        self.page.unroute("**/api/**")
        field.press("Enter")
        self.wait_for_value("blocks.b4.resistance", 110.0)

    def test_the_last_of_many_wishes_wins(self) -> None:
        self.open(query="?part=blocks.b2.r_gate")
        ruler = self.page.get_by_role("slider")
        ruler.focus()
        for _ in range(14):
            ruler.press("ArrowRight")
        for _ in range(9):
            ruler.press("ArrowLeft")
        wanted = ruler.get_attribute("aria-valuenow")
        self.page.wait_for_function("document.querySelector('.workspace:not(.stale)')")
        self.assertIn(f"MOSFET, {wanted}", self.page.get_by_role("navigation", name="Facets").inner_text())

    def test_unknown_places_lead_back(self) -> None:
        self.page.goto(f"{self.live_server_url}/nowhere")
        self.see("Nothing is kept here")
        self.page.goto(f"{self.live_server_url}/design/00000000-0000-0000-0000-000000000000/drive")
        self.see("There is no such design")
        self.page.get_by_role("link", name="Back to the shelf").click()
        self.see("Carry on")

    def test_the_drawer_shows_what_there_is(self) -> None:
        self.page.goto(f"{self.live_server_url}/drawer")
        self.button(re.compile("^MOSFETs")).click()
        self.see("N-MOSFET 55 V 5 A, logic level")
        self.assertEqual(self.page.get_by_text("Zener 15 V").count(), 0)
