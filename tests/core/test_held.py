"""What a file may hold, and what a document refuses though each of its fields is right.

Oracle: what was taken can be written out and read again unchanged; what was refused names its place.
"""

import json
import unittest

from hexlet_core.cards import Drawer, read_card
from hexlet_core.design.document import read_design
from hexlet_core.design.starts import start
from hexlet_core.errors import DocumentError
from hexlet_core.fields import DEEP, DIGITS, read_json
from hexlet_core.formats.cards import MOST_COLUMNS, cards_csv, read_rows


def refusal(text: str | bytes) -> tuple[str, str]:
    try:
        read_json(text)
    except DocumentError as error:
        return error.problems[0].field, error.problems[0].message
    raise AssertionError(f"{text[:60]!r} was taken")


class Held(unittest.TestCase):
    def test_texts_that_cannot_be_written_out_are_refused_at_their_place(self) -> None:
        for bad in ("\\ud800", "\\u0000", "\\u001b", "\\uffff"):
            field, message = refusal('{"a": [{"b": "x' + bad + '"}]}')
            self.assertEqual(field, "a[0].b")
            self.assertIn("cannot be written out", message)
            json.dumps(refusal('{"a' + bad + '": 1}')[0]).encode("ascii")

    def test_every_other_text_comes_back(self) -> None:
        for good in ("Ω µ ² 10 kΩ", "a\tb\nc\r", "\U0001f50b", "𝄞", "é"):
            self.assertEqual(read_json(json.dumps({"a": good}))["a"], good)

    def test_numbers_that_are_none_and_endless_ones(self) -> None:
        for word in ("NaN", "Infinity", "-Infinity"):
            self.assertIn("not a JSON document", refusal(f'{{"a": {word}}}')[1])
        self.assertEqual(read_json("1" * DIGITS), int("1" * DIGITS))
        self.assertEqual(read_json("-" + "9" * 5000), float("-inf"))

    def test_depth_and_marks_of_order(self) -> None:
        read_json("[" * DEEP + "]" * DEEP)
        self.assertIn("more than", refusal("[" * (DEEP + 2) + "]" * (DEEP + 2))[1])
        refusal("[" * 100_000)
        self.assertEqual(read_json(b'\xef\xbb\xbf{"a": 1}'), read_json('\ufeff{"a": 1}'))
        refusal(b"\xff\xfe{")


class Whole(unittest.TestCase):
    def refused(self, **changes: object) -> str:
        with self.assertRaises(DocumentError) as caught:
            read_design(start("coil").model_dump(mode="json") | changes)
        return str(caught.exception.problems[0])

    def test_the_surroundings_rise(self) -> None:
        self.assertIn("hottest at 40", self.refused(ambient={"typical": 60.0, "high": 40.0}))

    def test_what_is_set_aside_is_of_its_role_and_under_its_name(self) -> None:
        load = start("coil").model_dump(mode="json")["blocks"]["b4"]
        self.assertIn("cannot be set aside there", self.refused(set_aside={"b2": {load["kind"]: load}}))
        self.assertIn("Name it so", self.refused(set_aside={"b4": {"led": load}}))

    def test_nothing_is_without_a_bound(self) -> None:
        self.refused(origins={f"blocks.b2.f{k}": "given" for k in range(700)})
        self.refused(set_aside={f"b{k}": {} for k in range(1, 100)})
        self.refused(notes="x" * 5001)


class CardFiles(unittest.TestCase):
    def test_columns_that_cannot_be_put_back_are_refused_in_a_moment(self) -> None:
        for header in (
            "title,kind," + ".".join("a" * 500),
            "title,kind," + ",".join(f"x{k}" for k in range(MOST_COLUMNS)),
            "title,kind,kind",
        ):
            with self.assertRaises(DocumentError):
                read_rows(f"{header}\nA,npn,1", "f.csv", Drawer())
        row = read_rows("title,kind,forward,forward.0.current\nA,diode,1,2", "f.csv", Drawer())[0]
        self.assertEqual((row.status, row.problems[0]["field"]), ("refused", "forward.0.current"))
        row = read_rows("title,kind,forward.².current\nA,diode,1", "f.csv", Drawer())[0]
        self.assertEqual(row.status, "refused")

    def test_a_design_is_no_file_of_cards(self) -> None:
        with self.assertRaisesRegex(DocumentError, "This is a design"):
            read_rows(start("coil").model_dump_json(), "f.json", Drawer())

    def test_titles_that_look_like_formulas_come_back_as_they_were(self) -> None:
        for k, title in enumerate(("=1+1", "+5", "-x", "@a", "'quoted", "''twice", "plain")):
            card = read_card({"id": f"mine{k}", "kind": "resistor", "title": title, "value": 100.0})
            text = cards_csv(Drawer(own={card.id: card}), [card])
            self.assertFalse(
                [c for line in text.splitlines() for c in line.split(",") if c[:1] in ("=", "@")]
            )
            back = read_rows(text, "f.csv", Drawer())[0].card
            assert back is not None
            self.assertEqual(back["title"], title)
