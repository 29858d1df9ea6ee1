"""The large rehearsal: events dragged, typed and taken back, fans with progress and stop, close-ups, zoom,
CSV.
"""

import csv
import io
import re

from playwright.sync_api import expect
from workshop.models import Design

from .base import Browsing

SLOW_SAVES = """
const quick = window.fetch;
window.saves = 0;
window.fetch = async (...asked) => {
  if (!(asked[0].url ?? asked[0]).endsWith("/change")) return quick(...asked);
  await new Promise((later) => setTimeout(later, 400));
  const answer = await quick(...asked);
  window.saves += answer.ok;
  return answer;
};
"""


class Rehearsing(Browsing):
    """Driven on the fan relay."""

    def large(self) -> None:
        self.open("behave")
        self.page.keyboard.press("e")
        self.page.get_by_label("Close-up A").wait_for()

    def event(self, words: str):  # type: ignore[no-untyped-def]
        return self.page.locator(".rehearsal .lanes").first.get_by_role("button", name=re.compile(words))

    def test_an_event_is_dragged_nudged_and_taken_back(self) -> None:
        self.page.add_init_script(SLOW_SAVES)
        self.large()
        sag = self.event("Battery, to 10.8 V")
        box = sag.bounding_box()
        assert box
        self.page.mouse.move(box["x"] + 11, box["y"] + 11)
        self.page.mouse.down()
        for k in range(1, 7):
            self.page.mouse.move(box["x"] + 11 - 20 * k, box["y"] + 11)
        self.page.mouse.up()
        expect(self.page.get_by_label("Script")).to_have_value("Own script")
        expect(sag).not_to_have_attribute("aria-label", re.compile("at 50 ms"))
        self.event("Pin, high").focus()
        self.page.keyboard.press("ArrowRight")
        expect(self.event("Pin, high, at 10.7 ms|Pin, high, at 10.6")).to_be_visible()
        self.page.wait_for_function("window.saves === 2")  # one on top of the other, and no clash
        self.page.reload()  # it is kept with the design
        self.page.get_by_role("heading", name="Rehearsal").wait_for()
        self.page.keyboard.press("e")
        expect(self.event("Pin, high, at 10.7 ms|Pin, high, at 10.6")).to_be_visible()
        self.button("Undo").click()
        expect(self.event("Pin, high, at 10 ms")).to_be_visible()
        self.button("Undo").click()
        expect(sag).to_have_attribute("aria-label", re.compile("at 50 ms"))

    def test_an_event_is_typed_and_refused_at_its_field(self) -> None:
        self.large()
        self.button("+ Event").click()
        self.page.get_by_role("menuitem", name="Meter put on").click()
        self.page.get_by_label("red lead").select_option("b2.gate")
        self.page.get_by_label("until").fill("5m")
        self.button("Add it").click()
        self.see("taken off before it is put on")
        expect(self.page.get_by_label("until")).to_have_attribute("aria-invalid", "true")
        self.page.get_by_label("until").fill("99 ms")
        self.page.get_by_label("resistance").fill("soft")
        self.button("Add it").click()
        self.page.locator(".event-editor em").first.wait_for()
        self.page.get_by_label("resistance").fill("10k")
        self.button("Add it").click()
        self.event("meter on the gate strip").wait_for()
        self.event("meter on the gate strip").focus()
        self.page.keyboard.press("Enter")
        self.button("Remove").click()
        expect(self.event("meter on the gate strip")).to_have_count(0)

    def test_corners_and_parts_make_fans(self) -> None:
        self.large()
        self.button("All corners").click()
        self.see(re.compile("48 runs"))
        self.see(re.compile("closes [0-9.]+ ms to [0-9.]+ ms"))
        self.button("200 sets of parts").click()
        self.see(re.compile("200 runs"))
        self.see(re.compile("Varied: R1.resistance, R2.resistance, Q1.v_th"))
        self.page.keyboard.press("e")
        self.page.get_by_label("Close-up A").wait_for(state="hidden")

    def test_work_can_be_stopped(self) -> None:
        self.large()
        self.page.route("**/api/jobs/spread", lambda route: None)  # never answers: only stopping ends it
        self.button("All corners").click()
        self.button("Stop").click()
        self.button("All corners").wait_for()

    def test_dragging_across_zooms_and_a_double_click_shows_the_whole(self) -> None:
        self.large()
        plot = self.page.locator(".rehearsal .lanes").first
        box = plot.bounding_box()
        assert box
        self.page.mouse.move(box["x"] + 180, box["y"] + 200)
        self.page.mouse.down()
        self.page.mouse.move(box["x"] + 260, box["y"] + 200, steps=4)
        self.page.mouse.up()
        self.button("Whole").wait_for()
        self.page.mouse.dblclick(box["x"] + 300, box["y"] + 220)
        self.button("Closer").wait_for()

    def test_waves_are_saved_as_csv(self) -> None:
        self.large()
        with self.page.expect_download() as caught:
            self.button("Save these waves as CSV").click()
        text = (caught.value.path()).read_text("utf-8")
        rows = list(csv.reader(io.StringIO(text)))
        self.assertEqual(rows[0][0], "time")
        self.assertGreater(len(rows), 100)
        self.assertIn("b2.drain", rows[0])

    def test_the_press_map_runs_by_itself_and_follows_a_change(self) -> None:
        self.fan = Design.objects.get(name="Flat-panel selector")
        self.open("behave")
        pane = self.page.get_by_role("region", name="How long you hold it")
        expect(pane).to_contain_text("presses of S1, bounce included")
        expect(pane).to_contain_text(re.compile("no change when held under 1[0-9] ms on 10.8 V"))
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        expect(pane).to_contain_text("Held for 6 ms or for 10 s: the same.")
        self.page.get_by_label("the trigger").select_option("direct")
        expect(pane.get_by_role("img")).to_have_attribute("aria-label", re.compile("on for 44"))

    def test_the_press_map_can_be_stopped(self) -> None:
        self.page.route("**/api/jobs/press-map", lambda route: None)  # never answers: only stopping ends it
        self.fan = Design.objects.get(name="Red map light")
        self.open("behave")
        pane = self.page.get_by_role("region", name="How long you hold it")
        pane.get_by_role("button", name="Stop").click()
        expect(pane.get_by_role("button", name="Stop")).to_be_hidden()
