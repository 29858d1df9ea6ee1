"""At the bench: build steps and readings, on a desk and on a phone."""

import re

from notebook.models import Reading

from .base import Browsing


class Bench(Browsing):
    def test_build_steps_are_ticked_in_order_and_can_be_taken_back(self) -> None:
        self.open("build")
        self.see("9 of 17 done")
        self.see("Expect")
        self.button(re.compile("It reads so")).click()
        self.see("10 of 17 done")
        self.page.get_by_role("navigation", name="Build steps").get_by_role(
            "button", name=re.compile("D1, by the meter")
        ).click()
        self.button("Not done after all").click()
        self.see("9 of 17 done")

    def test_leg_order_and_meter_procedure(self) -> None:
        self.open("build")
        self.page.get_by_role("navigation", name="Build steps").get_by_role(
            "button", name=re.compile("Q1: gate, drain, source")
        ).click()
        self.page.get_by_role(
            "img", name=re.compile("Legs from left to right.*gate, drain, source")
        ).wait_for()
        self.see(re.compile("Then touch the gate with red"))
        self.button("Parts list").click()
        self.see("N-MOSFET 55 V 5 A, logic level")

    def test_readings_go_in_fast_and_are_judged(self) -> None:
        self.open("prove")
        entry = self.page.get_by_label(re.compile("Reading at"))
        for text in ("3.27", "0", "12.7", "1.84", "o"):
            at = entry.get_attribute("aria-label")
            if text == "o":
                entry.press("o")  # the last rung: none comes after it
                break
            entry.press_sequentially(text)
            entry.press("Enter")
            # The next rung is there once this one is kept.
            self.page.wait_for_function(
                "a => document.querySelector('.entry input')?.getAttribute('aria-label') !== a", arg=at
            )
        self.see("2 of 6 outside.")
        self.see(re.compile("1.8\\d V over"))
        self.page.locator(".ladder li").nth(4).get_by_role("button").click()
        entry = self.page.get_by_label(re.compile("Reading at Drain to 0 V, pin high"))
        entry.press_sequentially("12m")
        entry.press("Enter")
        self.see("1 of 6 outside.")
        self.assertEqual(Reading.objects.filter(rung="b2.drain.active").count(), 2)
        self.page.get_by_label(re.compile("Reading at")).press("u")
        self.see("2 of 6 outside.")

    def test_a_reading_not_understood_stays_in_the_field(self) -> None:
        self.open("prove")
        entry = self.page.get_by_label(re.compile("Reading at"))
        entry.fill("3.3 A")
        entry.press("Enter")
        self.see("Amps where volts are wanted.")
        self.assertEqual(entry.input_value(), "3.3 A")
        self.page.reload()
        self.assertEqual(self.page.get_by_label(re.compile("Reading at")).input_value(), "3.3 A")

    def test_the_supply_read_moves_the_bands(self) -> None:
        self.open("prove")
        self.button("12.71 V").click()
        field = self.page.get_by_label("Supply reading in volts")
        field.fill("11.5")
        field.press("Enter")
        self.see("11.5 V")
        self.see(re.compile("11.6 V"))


class WithoutTheServer(Browsing):
    """Steps and readings go on while the server does not answer, and are sent in their order."""

    allowed = re.compile("Failed to load resource|net::ERR")

    def test_what_is_done_waits_on_this_computer_over_a_reload_and_is_sent(self) -> None:
        steps, readings = "**/api/designs/*/steps", "**/api/designs/*/readings"
        for path in (steps, readings):
            self.page.route(path, lambda route: route.abort())
        self.open("build")
        self.see("9 of 17 done")
        self.button(re.compile("It reads so")).click()
        self.see("1 bench note is kept")
        self.page.goto(f"{self.live_server_url}/design/{self.fan.id}/prove")
        entry = self.page.get_by_label(re.compile("Reading at"))
        entry.press_sequentially("0")
        entry.press("Enter")
        self.see("2 bench notes are kept")
        self.see("kept here")
        self.page.reload()
        self.see("2 bench notes are kept")
        self.assertEqual(self.fan.steps_done.count(), 9)
        for path in (steps, readings):
            self.page.unroute(path)
        self.page.get_by_text(re.compile("bench notes? (is|are) kept")).wait_for(state="hidden")
        self.assertEqual(self.fan.steps_done.count(), 10)
        self.assertEqual(Reading.objects.filter(value=0.0).count(), 1)

    def test_edits_wait_in_their_order(self) -> None:
        self.page.route("**/api/designs/*/change", lambda route: route.abort())
        for value in ("330", "390"):
            self.open(query="?part=blocks.b2.r_gate")
            field = self.page.get_by_label("R1 value in Ω")
            field.fill(value)
            field.press("Enter")
            self.see(re.compile("edits? (is|are) kept"))
        self.see("2 edits are kept")
        self.page.unroute("**/api/designs/*/change")
        self.wait_for_value("blocks.b2.r_gate", 390.0)
        self.page.keyboard.press("Escape")
        self.assertEqual(self.fan.revisions.order_by("-number")[1].document["blocks"]["b2"]["r_gate"], 330.0)


class Phone(Browsing):
    size = (390, 844)

    def open_facet(self, facet: str) -> None:
        self.page.goto(f"{self.live_server_url}/design/{self.fan.id}/{facet}")

    def test_one_reading_a_screen_with_its_own_keys(self) -> None:
        self.open_facet("prove")
        pad = self.page.get_by_label("Keypad")
        for key in "3.27":
            pad.get_by_role("button", name=key, exact=True).click()
        self.button(re.compile("Save, next")).click()
        self.see(re.compile("Gate to 0 V, pin unplugged"))
        self.assertEqual(Reading.objects.get(rung="b2.gate.active").value, 3.27)

    def test_targets_are_big_enough_and_nothing_scrolls_sideways(self) -> None:
        for facet in ("build", "prove"):
            self.open_facet(facet)
            self.page.wait_for_selector(".step-card" if facet == "build" else ".pad button")
            wide = self.page.evaluate("document.documentElement.scrollWidth")
            self.assertLessEqual(wide, 390)
            selector = ".step-card .actions button" if facet == "build" else ".pad button, .entry .primary"
            for box in self.page.evaluate(
                f"[...document.querySelectorAll('{selector}')].map(b => b.getBoundingClientRect().height)"
            ):
                self.assertGreaterEqual(box, 44)
