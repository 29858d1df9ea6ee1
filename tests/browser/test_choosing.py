"""Choosing in the browser: signals, drives, cards, guards, mends, the wall, and the parts drawer."""

import re

from drawer.models import Item
from workshop.models import Design

from .base import Browsing


class Choosing(Browsing):
    def test_any_two_drives_face_to_face_and_the_refused_one_explained(self) -> None:
        self.open()
        compare = self.page.get_by_label("Compare with")
        compare.select_option("pmos_high_side")
        self.see("costs in drop")
        compare.select_option("N-MOSFET, high side")
        self.see("N-MOSFET, high side is not built here.")
        compare.select_option("pnp_high_side")
        self.button("Use it").click()
        self.wait_for_value("blocks.b2.kind", "pnp_high_side")
        self.assertEqual(self.value("blocks.b4.resistance"), 96.0)
        self.page.keyboard.press("Control+z")
        self.wait_for_value("blocks.b2.kind", "nmos_low_side")

    def test_another_signal_keeps_the_rest(self) -> None:
        self.open()
        self.exchange("Input", "Push button")
        self.wait_for_value("blocks.b1.kind", "push_button")
        self.assertEqual(self.value("blocks.b2.r_gate"), 220.0)
        self.see("Follows the button")

    def test_what_would_do_lists_those_that_fail_and_why(self) -> None:
        self.open(query="?part=blocks.b2.card")
        self.see("What would do")
        self.button(re.compile(r"\d+ fail, and why")).click()
        self.see(re.compile("Gate voltage: Needs 9 V"))
        self.button("gate wants").click()
        self.button("My drawer").click()
        self.see("in use")

    def test_a_failing_verdict_is_mended_in_one_press_and_undone(self) -> None:
        self.open("guard")
        self.block("Guard").focus()
        self.page.keyboard.press("Delete")
        self.button(re.compile("^Take it out")).click()
        self.verdict("Avalanche energy").get_by_role("button").first.click()
        self.button("What mends it").click()
        row = self.page.locator(".mends li").filter(has_text="Freewheel added").first
        row.get_by_role("button", name="Try").click()
        self.see("If tried")
        row.get_by_role("button", name="Use").click()
        self.see(re.compile("Mended: Freewheel added"))
        self.page.locator("body").click(position={"x": 700, "y": 300})
        self.page.keyboard.press("Control+z")
        self.verdict("Avalanche energy").get_by_text(re.compile("over")).wait_for()

    def test_a_guard_is_added_and_taken_out(self) -> None:
        self.open("guard")
        self.page.get_by_role("list", name="Guards").get_by_role("button", name=re.compile("Fuse")).click()
        self.button("Add it").click()
        self.verdict("Fuse saves the wire").wait_for()
        self.button("Take it out").click()
        self.verdict("Fuse saves the wire").wait_for(state="hidden")

    def test_the_wall_stays_on_screen_and_nothing_is_built_above_it(self) -> None:
        lamp = Design.objects.get(name="Path lamp")
        self.page.goto(f"{self.live_server_url}/design/{lamp.id}/drive")
        self.see("Above 30 V AC: ratings only")
        self.button(re.compile("low, typical, high")).click()
        field = self.page.get_by_label(re.compile("low, typical, high"))
        field.fill("207 / 230 / 253")
        field.press("Enter")
        self.see("No wiring steps, no board plan.")
        self.page.goto(f"{self.live_server_url}/design/{lamp.id}/build")
        self.see(re.compile("licensed person"))
        self.see("No build plan")


class TheDrawer(Browsing):
    def setUp(self) -> None:
        super().setUp()
        self.page.goto(f"{self.live_server_url}/drawer?card=npn-60v-1a")
        self.page.get_by_role("heading", name="NPN medium 60 V 1 A").wait_for()

    def test_an_archetype_is_copied_edited_refused_and_kept(self) -> None:
        self.see("gives back")
        self.button("Copy to a card of my own").click()
        name = self.page.get_by_label("Name", exact=True)
        name.fill("Shed NPN 60 V")
        least = self.page.get_by_label("h_{FE} least")
        least.fill("900")
        self.button("Keep as my card").click()
        self.see(re.compile("gain must rise from minimum"))
        least.fill("120")
        self.button("Keep as my card").click()
        self.see(re.compile("your own card"))  # the heading alone shows what is typed
        self.assertEqual((Item.objects.get(card_id="shed-npn-60-v").card or {})["gain_min"], 120.0)
        self.button("Take it out").click()
        self.page.get_by_role("heading", name="Shed NPN 60 V").wait_for(state="hidden")
        self.button("Undo").click()
        self.see(re.compile("Undone: shed-npn-60-v taken out"))
        self.assertTrue(Item.objects.filter(card_id="shed-npn-60-v").exists())

    def test_stock_is_counted_and_undone(self) -> None:
        self.button("One more").click()
        self.page.wait_for_function("document.querySelector('.stock-row .value').innerText === '5'")
        self.assertEqual(Item.objects.get(card_id="npn-60v-1a").stock, 5)

    def test_a_file_is_read_row_by_row_and_kept_when_confirmed(self) -> None:
        text = (
            "id,kind,title,stock,value,tolerance\nr-1k2,resistor,Resistor 1k2 1 "
            "%,25,1k2,0.01\n,resistor,Resistor bad,3,2k2k,0.01\n"
            "npn-60v-1a,npn,NPN medium 60 V 1 A,9,,\n"
        )
        before = Item.objects.count()
        self.page.get_by_label("File of cards").set_input_files(self.file(text, "spring.csv"))
        self.see("nothing is saved yet")
        self.see(re.compile("One k too many"))
        self.assertEqual(Item.objects.count(), before)
        self.button("Import 2, leave 1 out").click()
        self.see("spring.csv imported.")
        self.assertEqual(Item.objects.get(card_id="npn-60v-1a").stock, 9)
        self.button("Undo").click()
        self.see(re.compile("Undone: 2 rows of spring.csv"))
        self.assertEqual(Item.objects.get(card_id="npn-60v-1a").stock, 4)
        self.assertFalse(Item.objects.filter(card_id="r-1k2").exists())

    def test_a_card_in_use_is_not_taken_out(self) -> None:
        self.page.goto(f"{self.live_server_url}/drawer?card=r-6k8")
        self.page.get_by_role("heading", name="Resistor 6k8 1 %").wait_for()
        self.button("Copy to a card of my own").wait_for()
