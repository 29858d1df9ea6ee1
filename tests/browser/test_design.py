"""Designing in the browser: givens, windows, schools, verdicts, rehearsal, history, and what goes wrong."""

import json
import re
from pathlib import Path

from playwright.sync_api import expect

from .base import ROOT, Browsing


class Designing(Browsing):
    def test_from_the_shelf_to_a_changed_given(self) -> None:
        self.page.goto(self.live_server_url)
        self.page.get_by_role("link", name="Roof-vent fan relay").click()
        self.see("Switch a")
        self.button(re.compile("measured: 96 Ω")).click()
        field = self.page.get_by_label(re.compile("measured: 96 Ω"))
        field.fill("120")
        field.press("Enter")
        self.button(re.compile("measured: 120 Ω")).wait_for()
        self.wait_for_value("blocks.b4.resistance", 120.0)
        self.see("120 Ω coil, 120 mA")

    def test_a_given_not_understood_keeps_the_old_one_and_offers(self) -> None:
        self.open()
        self.button(re.compile("logic pin: 3.3 V")).click()
        field = self.page.get_by_label(re.compile("logic pin"))
        field.fill("3k3 V")
        field.press("Enter")
        self.see(re.compile("3,300 V is outside"))
        self.assertEqual(self.value("blocks.b1.level"), 3.3)
        self.button("Use 3.3 V").click()
        self.page.get_by_role("alert").wait_for(state="hidden")

    def test_three_supply_values_in_one_field(self) -> None:
        self.open()
        self.button(re.compile("battery low, typical, high")).click()
        field = self.page.get_by_label(re.compile("battery low"))
        field.fill("15 / 12.6 / 14.4")
        field.press("Enter")
        self.see(re.compile("must rise from low"))
        field.fill("10.5 / 12.6 / 14.6")
        field.press("Enter")
        self.wait_for_value("supply.high", 14.6)

    def test_a_half_typed_value_survives_closing_the_browser(self) -> None:
        self.open()
        self.button(re.compile("measured: 96 Ω")).click()
        self.page.get_by_label(re.compile("measured: 96")).press_sequentially("1")
        self.page.close()
        self.page = self.fresh_page()
        self.open()
        self.assertEqual(self.page.get_by_label(re.compile("measured: 96")).input_value(), "96 Ω1")

    def test_dragging_the_handle_moves_verdicts_and_nothing_is_saved_until_enter(self) -> None:
        self.open()
        self.button("R1 220").click()
        ruler = self.page.get_by_role("slider")
        box = ruler.bounding_box()
        assert box
        self.page.mouse.move(box["x"] + box["width"] * 0.45, box["y"] + 60)
        self.page.mouse.down()
        for k in range(12):
            self.page.mouse.move(box["x"] + box["width"] * (0.45 + k * 0.045), box["y"] + 60)
        self.page.mouse.up()
        self.see("If tried")
        self.verdict("Gate voltage").get_by_text(re.compile("short")).wait_for()
        self.assertEqual(self.value("blocks.b2.r_gate"), 220.0)
        self.page.keyboard.press("Escape")
        self.page.get_by_role("heading", name="Verdicts").wait_for()

    def test_keys_step_the_handle_and_enter_takes_it(self) -> None:
        self.open()
        self.button("R1 220").click()
        ruler = self.page.get_by_role("slider")
        ruler.focus()
        ruler.press("ArrowRight")
        self.see(re.compile("Use 240 Ω"))
        ruler.press("Enter")
        self.wait_for_value("blocks.b2.r_gate", 240.0)

    def test_typed_values_in_the_window(self) -> None:
        self.open(query="?part=blocks.b2.r_gate")
        field = self.page.get_by_label("R1 value in Ω")
        field.fill("2k2k")
        field.press("Enter")
        self.see("One k too many.")
        self.button("Use 2k2").click()
        self.wait_for_value("blocks.b2.r_gate", 2200.0)

    def test_choosing_the_bipolar_shows_why_not_and_undo_brings_the_mosfet_back(self) -> None:
        self.open()
        self.button("8 mA. Change it").click()
        self.page.locator(".sentence input").fill("3 mA")
        self.page.keyboard.press("Enter")
        self.wait_for_value("blocks.b1.steady", 3e-3)
        self.page.get_by_label("Compare with").select_option("npn_low_side")
        self.button("Use it").click()
        self.wait_for_value("blocks.b2.kind", "npn_low_side")
        self.see(re.compile("Bipolar, "))
        self.see("Base overdriven")
        self.button("R1 220").click()
        self.see(re.compile("No value fits"))
        offers = self.page.get_by_role("list", name="What to try")
        offers.get_by_text("Use the MOSFET").wait_for()
        self.page.keyboard.press("Escape")
        self.page.locator("body").click(position={"x": 700, "y": 300})
        self.page.keyboard.press("Control+z")
        self.wait_for_value("blocks.b2.kind", "nmos_low_side")
        self.page.keyboard.press("Control+Shift+z")
        self.wait_for_value("blocks.b2.kind", "npn_low_side")

    def test_a_verdict_opens_to_its_working_and_mends_itself(self) -> None:
        self.open("guard")
        self.see("Told, not judged")
        self.button("Ask: Release time").click()
        self.verdict("Release time").get_by_role("button").first.click()
        self.see(re.compile("More volts there empty it sooner"))
        self.button("Use diode + zener").click()
        self.wait_for_value("blocks.b3.school", "diode_zener")
        self.verdict("Release time").get_by_text(re.compile(r"\d+% left")).wait_for()

    def test_freewheel_points_are_tried_before_they_are_used(self) -> None:
        self.open("guard")
        self.button(re.compile(r"Diode \+ zener .*lets go")).click()
        self.see("If tried")
        self.assertEqual(self.value("blocks.b3.school"), "diode")
        self.button("Use diode + zener").last.click()
        self.wait_for_value("blocks.b3.school", "diode_zener")

    def test_keys_go_round_the_facets_verdicts_and_events(self) -> None:
        self.open()
        for key, facet in (
            ("1", "load"),
            ("3", "guard"),
            ("4", "behave"),
            ("5", "build"),
            ("6", "prove"),
            ("2", "drive"),
        ):
            if facet == "drive":
                self.page.get_by_role("heading", name="Rehearsal").click()
            self.page.keyboard.press(key)
            self.page.wait_for_url(f"**/{facet}")
        self.page.keyboard.press("]")
        self.page.locator("li.verdict.open").wait_for()
        before = self.page.locator(".rehearsal .copper").inner_text()
        self.page.keyboard.press(".")
        self.page.wait_for_function(
            "b => document.querySelector('.rehearsal .copper').innerText !== b", arg=before
        )
        self.page.keyboard.press("r")
        self.page.locator(".rehearsal.folded").wait_for()
        self.page.keyboard.press("?")
        self.see("Letters act outside text fields.")
        expect(self.page.get_by_role("region", name="Rehearsal").last).to_contain_text("fold or unfold")

    def test_the_cursor_lights_the_schematic(self) -> None:
        self.open()
        lit = "document.querySelectorAll('.schematic polyline[stroke=\"var(--copper)\"]').length"
        on = self.page.evaluate(lit)
        for _ in range(6):
            self.button("Previous event").click()
        self.page.wait_for_function(f"n => {lit} < n", arg=on)

    def test_find_understands_wrong_words(self) -> None:
        self.open()
        self.page.keyboard.press("/")
        box = self.page.get_by_role("combobox", name="Find or do")
        box.fill("kick diode")
        expect(box).to_have_attribute("aria-activedescendant", re.compile("option-0"))
        expect(self.page.get_by_role("option").first).to_contain_text(re.compile("guard|diode", re.I))
        box.press("Enter")
        self.page.wait_for_url(re.compile("guard|drive"))

    def test_rename_refuses_a_taken_name(self) -> None:
        self.open()
        self.button("Roof-vent fan relay").click()
        self.page.get_by_role("menuitem", name="Rename").click()
        self.page.get_by_label("Name", exact=True).fill("Beacon relay")
        self.button("Rename", exact=True).click()
        self.see(re.compile("“Beacon relay 2” is free"))

    def test_two_windows_clash_and_one_choice_settles_it(self) -> None:
        self.open(query="?part=blocks.b2.r_gate")
        document = json.loads(json.dumps(self.fan.revision.document))
        document["blocks"]["b2"]["r_gate"] = 180.0
        from workshop import actions

        actions.save(self.fan.id, document, self.fan.stamp, "elsewhere")
        field = self.page.get_by_label("R1 value in Ω")
        field.fill("270")
        field.press("Enter")
        self.see("Changed in two places")
        asked = self.page.get_by_role("radiogroup", name=re.compile("R1, gate resistor"))
        expect(asked).to_contain_text(re.compile("mA"))  # what comes of either
        asked.get_by_role("radio", name="180").check()
        asked.get_by_role("radio", name="270").check()
        self.button("Merge as chosen").click()
        self.wait_for_value("blocks.b2.r_gate", 270.0)

    def test_edits_that_do_not_meet_are_merged_without_a_question(self) -> None:
        self.open(query="?part=blocks.b2.r_gate")
        document = json.loads(json.dumps(self.fan.revision.document))
        document["blocks"]["b2"]["r_pull"] = 8200.0
        from workshop import actions

        actions.save(self.fan.id, document, self.fan.stamp, "elsewhere")
        field = self.page.get_by_label("R1 value in Ω")
        field.fill("270")
        field.press("Enter")
        self.see(re.compile("the two edits are merged"))
        self.wait_for_value("blocks.b2.r_gate", 270.0)
        self.assertEqual(self.value("blocks.b2.r_pull"), 8200.0)

    def test_dark_and_light(self) -> None:
        self.open()
        self.button("Dark").click()
        self.assertEqual(self.page.evaluate("document.documentElement.dataset.mode"), "dark")


class Shelving(Browsing):
    def test_export_delete_undo_and_import(self) -> None:
        from workshop.models import Design

        self.open()
        count = Design.objects.count()
        text = json.dumps(self.fan.revision.document)
        self.button("Roof-vent fan relay").click()
        with self.page.expect_download() as download:
            self.page.get_by_role("menuitem", name="Export design (JSON)").click()
        self.assertEqual(json.loads(Path(download.value.path()).read_text("utf-8")), json.loads(text))
        self.button("Roof-vent fan relay").click()
        self.page.get_by_role("menuitem", name="Delete").click()
        self.see(f"{count - 1} designs")
        self.button("Undo").click()
        self.see(f"{count} designs")
        self.page.get_by_label("Design file").set_input_files(self.file(text))
        self.see("“Roof-vent fan relay 2” was brought in.")

    def test_a_refused_file_says_where(self) -> None:
        self.page.goto(self.live_server_url)
        data = json.loads(json.dumps(self.fan.revision.document))
        data["blocks"]["b2"]["r_gate"] = "-470k"
        self.page.get_by_label("Design file").set_input_files(self.file(json.dumps(data), "soft.json"))
        self.see("soft.json was not brought in")
        self.see("blocks.b2.r_gate")

    def test_new_designs_start_by_what_they_do(self) -> None:
        self.page.goto(self.live_server_url)
        self.see("Carry on")
        self.page.keyboard.press("n")
        self.page.keyboard.press("Enter")
        self.page.wait_for_url("**/load")
        self.see("New coil switch")

    def test_the_first_run_is_not_empty_handed(self) -> None:
        from workshop.models import Design

        Design.objects.all().update(deleted="2026-01-01T00:00:00Z")
        self.page.goto(self.live_server_url)
        self.see("Nothing built yet")

    def pages(self) -> tuple[str, ...]:
        design = f"/design/{self.fan.id}"
        return (
            "/",
            *(f"{design}/{facet}" for facet in ("load", "drive", "guard", "behave", "build", "prove")),
            f"{design}/drive?part=blocks.b2.card",
            f"{design}/drive?block=b2",
            "/drawer",
        )

    def barriers(self, path: str) -> list[str]:
        """What axe finds on a page, by every rule it has."""
        self.page.goto(self.live_server_url + path)
        self.page.wait_for_timeout(700)
        self.page.evaluate((ROOT / "web" / "node_modules" / "axe-core" / "axe.min.js").read_text("utf-8"))
        found: list[str] = self.page.evaluate(
            "axe.run(document).then(r => r.violations.map(v => v.id + ': ' + v.nodes.slice(0, 3).map(n => "
            "n.target).join(' | ')))"
        )
        return found

    def test_nothing_is_loaded_from_elsewhere(self) -> None:
        seen: list[str] = []
        self.page.on("request", lambda r: seen.append(r.url))
        for path in self.pages():
            self.page.goto(self.live_server_url + path)
            self.page.wait_for_timeout(300)
        self.assertEqual([u for u in seen if not u.startswith((self.live_server_url, "data:"))], [])

    def test_there_is_no_barrier(self) -> None:
        for mode, size in (("light", (1280, 800)), ("dark", (1280, 800)), ("light", (390, 844))):
            self.page.set_viewport_size({"width": size[0], "height": size[1]})
            self.page.add_init_script(f"localStorage.setItem('mode', '{mode}')")
            for path in self.pages():
                with self.subTest(path, mode=mode, width=size[0]):
                    self.assertEqual(self.barriers(path), [])


class Narrow(Browsing):
    size = (1024, 768)

    def test_the_verdicts_fold_to_a_rail(self) -> None:
        self.open()
        self.page.get_by_role("complementary", name="Verdicts").wait_for(state="hidden")
        self.button("Show the verdicts").click()
        self.page.get_by_role("complementary", name="Verdicts").wait_for()
