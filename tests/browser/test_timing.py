"""Timing in the browser: the knob, what a time hangs on, the inside of a timer, and a blinker put in."""

import re

from playwright.sync_api import expect
from workshop.models import Design

from .base import Browsing


class Timing(Browsing):
    def test_the_knob_is_turned_by_keys_and_kept_by_enter(self) -> None:
        self.fan = Design.objects.get(name="Dew-heater dimmer")
        self.open("behave")
        knob = self.page.get_by_role("slider", name=re.compile("the knob"))
        knob.focus()
        for _ in range(3):
            knob.press("ArrowRight")
        knob.press("Shift+ArrowRight")
        self.button(re.compile("Use 63%")).wait_for()
        self.assertEqual(self.value("blocks.b1.turn"), 50.0)
        knob.press("Enter")
        self.wait_for_value("blocks.b1.turn", 63.0)
        knob.press("ArrowLeft")
        knob.press("Escape")
        self.button(re.compile("Use 62%")).wait_for(state="hidden")

    def test_what_a_time_hangs_on_and_what_is_inside(self) -> None:
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        inside = self.page.get_by_role("region", name="Inside U1")
        expect(inside).to_contain_text("Between the levels: it keeps its state.")
        pane = self.page.get_by_role("region", name="What the time hangs on")
        expect(pane.get_by_role("img", name=re.compile("C1 capacitance"))).to_be_visible(timeout=40_000)
        expect(pane).to_contain_text("With a meter of 10 MΩ at its capacitor")

    def test_what_goes_otherwise_is_shown_and_rehearsed(self) -> None:
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        pane = self.page.get_by_role("region", name="When things go otherwise")
        expect(pane.get_by_role("listitem")).to_have_count(8, timeout=40_000)
        expect(pane.get_by_role("table", name="How it may be counted")).to_contain_text(
            "until its output falls"
        )
        dips = pane.get_by_role("table", name="The supply dips while it runs")
        expect(dips.get_by_role("cell")).to_have_count(16)
        pane.get_by_role("button", name=re.compile("^Held on")).click()
        expect(self.page.get_by_label("Script")).to_have_value("Held on")
        self.page.get_by_label("Script").select_option("One press")
        expect(self.page.get_by_label("Script")).to_have_value("One press")

    def test_how_surely_a_state_is_kept_is_shown(self) -> None:
        self.fan = Design.objects.get(name="Mount rail")
        self.open("behave")
        pane = self.page.get_by_role("region", name="How surely it keeps its state")
        expect(pane).to_contain_text("200 of 200 builds", timeout=40_000)
        expect(pane).to_contain_text("Comes up off, at any speed of the supply")
        expect(pane.get_by_role("table", name="The supply dips while it is on")).to_contain_text("stays")
        press = self.page.get_by_role("region", name="How long you hold it")
        expect(press).to_contain_text("presses of S1 and S2", timeout=40_000)

    def test_a_step_of_the_rehearsal_lights_the_schematic_and_tells_what_stands_where(self) -> None:
        self.fan = Design.objects.get(name="Bench light")
        self.open("behave")
        pane = self.page.get_by_role("region", name="Step by step")
        steps = pane.locator("thead button")
        expect(steps).to_have_text(["At rest", "S1 pressed", "S1 let go", "S1 pressed", "S1 let go"])
        current = pane.locator("tbody tr", has_text="LED current").locator("td")
        drain = pane.locator("tbody tr", has_text="Drain").locator("td")
        expect(current.nth(2)).to_contain_text("mA")
        expect(drain.nth(2)).to_contain_text("12.")
        steps.nth(2).click()
        expect(steps.nth(2)).to_have_attribute("aria-pressed", "true")
        self.see("12.9 mA")
        switch = pane.locator("tbody tr", has_text="Q4").locator("td")
        expect(switch.nth(2)).to_have_text("conducts")
        expect(switch.nth(4)).to_have_text("off")

    def test_who_ends_up_on_whatever_the_order(self) -> None:
        self.fan = Design.objects.get(name="Flat-panel selector")
        self.open("behave")
        pane = self.page.get_by_role("region", name="Who ends up on")
        expect(pane).to_contain_text("48 runs", timeout=60_000)
        expect(pane).to_contain_text("Never two at once, in any order and between any two.")
        held = pane.locator("tbody tr", has_text="Both held, first let go")
        expect(held).to_contain_text("the second")

    def test_how_soon_the_next_press_counts(self) -> None:
        self.fan = Design.objects.get(name="Camera rail push-on, push-off")
        self.open("behave")
        pane = self.page.get_by_role("region", name="How long you hold it")
        expect(pane).to_contain_text("How soon the next press counts", timeout=60_000)
        expect(pane).to_contain_text("after the last one it counts")

    def test_a_guard_is_set_by_readings(self) -> None:
        self.fan = Design.objects.get(name="Battery guard")
        self.open("prove")
        pane = self.page.get_by_role("region", name="Set the trimmer")
        pane.get_by_label("Off at, try 1").fill("much")
        expect(pane).to_contain_text("Volts, such as 10.62")
        pane.get_by_label("Off at, try 1").fill("11,32 V")
        pane.get_by_label("Off at, try 2").fill("11.3")
        expect(pane.get_by_role("status")).to_contain_text("mean of 2, 20 mV apart: turn down by")
        pane.get_by_role("button", name="try again").click()
        self.wait_for_value("blocks.b1.turn", 25.7)
        for k in (1, 2, 3):
            pane.get_by_label(f"Off at, try {k}").fill("10.8")
        expect(pane.get_by_role("status")).to_contain_text("it is set")

    def test_a_guard_is_trimmed_across_its_turn(self) -> None:
        self.fan = Design.objects.get(name="Battery guard")
        self.open("behave")
        pane = self.page.get_by_role("region", name="RP1 across its turn")
        expect(pane).to_contain_text("off at 10.8 V")
        knob = self.page.get_by_role("slider", name="RP1 across its turn: the knob")
        knob.press("Shift+ArrowRight")
        knob.press("Enter")
        self.wait_for_value("blocks.b1.turn", 48.0)
        self.page.locator("li.verdict", has_text="Not cut off too early").wait_for()

    def test_values_are_chosen_by_a_school_and_counted_from_letting_go(self) -> None:
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        self.button("Larger R").click()
        self.see("what leaks counts sooner")
        self.page.get_by_label("wished").select_option(label="letting go")
        self.wait_for_value("blocks.b2.counted", "release")
        self.see("From letting go, on for")

    def test_a_blinker_takes_the_pins_place_and_gives_it_back(self) -> None:
        self.open("behave")
        self.page.get_by_role("button", name=re.compile("^555 astable")).click()
        self.wait_for_value("blocks.b5.kind", "astable")
        self.see(re.compile("555 astable, every"))
        expect(self.page.get_by_role("region", name="How long you hold it")).to_have_count(0)
        self.button("Undo").click()
        self.wait_for_value("blocks.b1.kind", "logic_pin")

    def test_a_trimmer_is_fitted_in_the_sentence_and_turned_by_hand(self) -> None:
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        self.page.get_by_label("the time").first.select_option(label="set with a trimmer")
        self.wait_for_value("blocks.b2.tuned", "trimmer")
        told = self.page.locator("li.verdict", has_text="Trimmer reaches down to the wish")
        told.get_by_role("button").first.click()
        told.get_by_role("button", name="What mends it").click()
        told.get_by_text("Take a smaller fixed resistor").wait_for()
        told.get_by_role("button", name="Use", exact=True).last.click()
        self.wait_for_value("blocks.b2.r_time", 300e3)
        pane = self.page.get_by_role("region", name="RP1 across its turn")
        expect(pane).to_contain_text("19.1%: time 45 s")
        knob = self.page.get_by_role("slider", name="RP1 across its turn: the knob")
        knob.press("ArrowRight")
        knob.press("Enter")
        self.wait_for_value("blocks.b2.turn", 20.1)
        expect(pane).to_contain_text("20.1%: time 45.6 s")

    def test_a_term_is_explained_until_it_was_read(self) -> None:
        self.open()
        self.page.locator("li.verdict", has_text="On-resistance").get_by_role("button").first.click()
        term = self.page.locator(".working .term", has_text="threshold")
        term.click()
        self.see("far from fully on")
        self.page.keyboard.press("Escape")
        expect(term).to_have_count(0)
