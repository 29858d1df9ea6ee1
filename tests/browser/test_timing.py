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
