"""Card files and the card bench: what is written comes back, what is wrong is named, and a model's curve
passes through its card.
"""

import json
import unittest

from hexlet_core.cards import Drawer, catalogue, resistor_cards
from hexlet_core.cards.bench import curve, given_back
from hexlet_core.cards.card import BipolarCard, FieldEffectCard
from hexlet_core.cards.labels import label
from hexlet_core.errors import DocumentError
from hexlet_core.formats.cards import cards_csv, cards_json, read_rows
from hypothesis import given, settings
from hypothesis import strategies as st

OWN = {c.id: c for c in resistor_cards([220.0, 4700.0, 1e6])}
DRAWER = Drawer(own=OWN, stock={"r-220": 3, "npn-60v-1a": 2})


class Files(unittest.TestCase):
    def test_every_card_of_the_catalogue_survives_both_formats(self) -> None:
        """Oracle: reading what was written gives the same card, bit for bit."""
        cards = [*catalogue().values(), *OWN.values()]
        for text in (cards_csv(DRAWER, cards), cards_json(DRAWER, cards)):
            rows = read_rows(text, "all", DRAWER)
            self.assertEqual(len(rows), len(cards))
            for row, card in zip(rows, cards, strict=True):
                self.assertEqual((row.status, row.card), ("same", card.model_dump(mode="json")), card.id)

    def test_numbers_in_shorthand_and_semicolons(self) -> None:
        (row,) = read_rows("kind;title;value;stock\nresistor;My 4k7;4k7;12\n", "x.csv", DRAWER)
        assert row.card is not None
        self.assertEqual(
            (row.card["value"], row.stock, row.status, row.card["id"]), (4700.0, 12, "new", "my-4k7")
        )

    def test_what_is_wrong_is_named_at_its_column(self) -> None:
        base = "kind,title,stock,forward.0.current,forward.0.voltage,current,surge,reverse\n"
        for cells, column, words in (
            ("diode,A,1,1,0.35 A,1,20,40", "forward.0.voltage", "Amps where volts"),
            ("diode,A,1,1,,1,20,40", "forward.0.voltage", "missing"),
            ("diode,A,-1,1,0.4,1,20,40", "stock", "whole number"),
            ("diode,A,1,1,0.4,1,20,-40", "reverse", "outside"),
        ):
            (row,) = read_rows(base + cells + "\n", "x.csv", DRAWER)
            with self.subTest(cells):
                self.assertEqual(row.status, "refused")
                self.assertEqual(row.problems[0]["field"], column)
                self.assertIn(words, row.problems[0]["message"])
                self.assertEqual(len(row.problems), 1)

    def test_an_archetype_is_not_overwritten(self) -> None:
        data = catalogue()["npn-60v-1a"].model_dump(mode="json") | {"gain_min": 70}
        (row,) = read_rows(json.dumps([data]), "x.json", DRAWER)
        self.assertEqual(row.status, "refused")
        self.assertEqual(row.problems[0]["suggestion"], "my-npn-60v-1a")

    def test_a_card_twice_in_one_file(self) -> None:
        rows = read_rows("kind,title,value\nresistor,Twin,10\nresistor,Twin,10\n", "x.csv", DRAWER)
        self.assertEqual([r.status for r in rows], ["new", "refused"])
        self.assertIn("Row 2", rows[1].note)

    @settings(deadline=None, max_examples=60)
    @given(st.text(max_size=300))
    def test_any_text_is_read_or_refused(self, text: str) -> None:
        try:
            rows = read_rows(text, "x", DRAWER)
        except DocumentError as error:
            self.assertTrue(error.problems[0].message)
        else:
            for row in rows:
                self.assertEqual(row.card is None, row.status == "refused")

    def test_a_cell_that_a_spreadsheet_would_run_is_quoted(self) -> None:
        card = OWN["r-220"].model_copy(update={"id": "r-x", "title": "=cmd"})
        text = cards_csv(Drawer(own={"r-x": card}), [card])
        self.assertIn("'=cmd", text)
        (row,) = read_rows(text, "x.csv", Drawer(own={"r-x": card}))
        self.assertEqual(row.status, "same")


class Bench(unittest.TestCase):
    def test_models_give_their_cards_back(self) -> None:
        for card in catalogue().values():
            for row in given_back(card):
                self.assertLess(abs(row.off), 0.1, f"{card.id} {row.title}")

    def test_a_number_the_model_cannot_meet_is_shown_as_off(self) -> None:
        """Oracle: three on-resistances on one card, the middle one far from what a channel through the outer
        two has.
        """
        card = catalogue()["nmos-55v-5a-logic"]
        assert isinstance(card, FieldEffectCard)
        low, high = card.on[0], card.on[-1]
        middle = low.model_copy(update={"v_gs": 3.5, "resistance": low.resistance * 0.999})
        odd = card.model_copy(update={"id": "odd", "on": (low, middle, high)})
        self.assertFalse(all(row.within for row in given_back(odd)))

    def test_curves_pass_through_the_cards_points_and_rise_or_fall(self) -> None:
        for card in catalogue().values():
            found = curve(card)
            if found is None:
                continue
            _, points = found.lines[0]
            values = [y for _, y in points]
            falling = isinstance(card, FieldEffectCard)
            with self.subTest(card.id):
                self.assertEqual(values, sorted(values, reverse=falling))
                for x, y, _ in found.points:
                    near = min(points, key=lambda p: abs(p[0] - x))
                    self.assertLess(abs(near[1] / y - 1), 1.2)

    def test_more_gain_forced_means_more_volts(self) -> None:
        """Oracle: a transistor driven less hard saturates less: the curve for 20 lies above the
        one for 10.
        """
        for card in catalogue().values():
            if isinstance(card, BipolarCard):
                found = curve(card)
                assert found is not None
                ten, twenty = (dict(points) for _, points in found.lines)
                self.assertTrue(all(twenty[x] > ten[x] for x in ten if x in twenty))

    def test_labels_are_those_of_a_sheet(self) -> None:
        self.assertEqual(label("on.0.v_gs"), "on 1 V_{GS}")
        self.assertEqual(label("coil_max"), "coil max")
