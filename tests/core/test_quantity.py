"""Oracle: the written rules in `quantity`, IEC 60063's own tables, and round trips."""

import doctest
import math
import unittest

from hexlet_core import quantity
from hexlet_core.errors import EntryError
from hexlet_core.quantity import SERIES, Interval, ceil, floor, nearest, parse, show, show_part, within
from hypothesis import given
from hypothesis import strategies as st

TAKEN = [
    ("4k7", "Ω", 4700.0),
    ("4.7k", "Ω", 4700.0),
    ("4700", "Ω", 4700.0),
    ("4K7", "Ω", 4700.0),
    ("4k7Ω", "Ω", 4700.0),
    ("47 kΩ", "Ω", 47e3),
    ("2R2", "Ω", 2.2),
    ("1M", "Ω", 1e6),
    ("10meg", "Ω", 1e7),
    ("10MEG", "Ω", 1e7),
    ("220R", "Ω", 220.0),
    ("33u", "F", 33e-6),
    ("33µ", "F", 33e-6),
    ("33μF", "F", 33e-6),
    ("0.1uF", "F", 1e-7),
    ("3.3V", "V", 3.3),
    ("3.3 V", "V", 3.3),
    ("3V3", "V", 3.3),
    ("12m", "V", 0.012),
    (".012", "V", 0.012),
    ("0,35", "V", 0.35),
    ("4,7k", "Ω", 4700.0),
    ("0,350", "V", 0.35),
    ("1e-6", "F", 1e-6),
    ("-5", "V", -5.0),
    ("−5", "V", -5.0),
    ("8 mA", "A", 8e-3),
    ("52 °C", "°C", 52.0),
    ("45", "s", 45.0),
    ("1e3 k", "Ω", 1e6),
]
REFUSED = [
    ("", "V", "Nothing was entered", None),
    ("abc", "V", "not a number", None),
    ("2k2k", "Ω", "One k too many", "2k2"),
    ("5 V", "Ω", "Volts where ohms", None),
    ("12 12", "V", "not a number", None),
    ("4,700", "Ω", "4.700 or 4700", None),
    ("3q3", "V", "not a prefix", None),
    ("5 xyz", "V", "not a prefix", None),
    ("3.3 V 4", "V", "more than one number", None),
]


class Parsing(unittest.TestCase):
    def test_shorthand_is_taken(self) -> None:
        for text, unit, value in TAKEN:
            with self.subTest(text):
                self.assertAlmostEqual(parse(text, unit), value, delta=abs(value) * 1e-12)

    def test_what_is_not_understood_says_so_and_suggests(self) -> None:
        for text, unit, message, suggestion in REFUSED:
            with self.subTest(text), self.assertRaises(EntryError) as caught:
                parse(text, unit, "here")
            self.assertIn(message, caught.exception.problem.message)
            self.assertEqual(caught.exception.problem.suggestion, suggestion)
            self.assertEqual(caught.exception.problem.field, "here")

    def test_a_suggestion_is_itself_taken(self) -> None:
        for text, unit, _, suggestion in REFUSED:
            if suggestion:
                with self.subTest(text):
                    parse(suggestion, unit)

    @given(st.floats(min_value=1e-11, max_value=9e8, allow_nan=False))
    def test_what_is_shown_is_read_back(self, value: float) -> None:
        for unit in ("Ω", "V", "A", "F"):
            self.assertAlmostEqual(
                parse(show(value, unit, 6).replace(",", ""), unit), value, delta=value * 1e-5
            )

    @given(st.sampled_from(SERIES["E96"]), st.integers(min_value=-9, max_value=6))
    def test_part_values_are_read_back(self, mantissa: float, decade: int) -> None:
        value = mantissa * 10.0**decade
        self.assertAlmostEqual(parse(show_part(value), "Ω"), value, delta=value * 1e-3)

    @given(st.text(max_size=12))
    def test_any_text_is_answered_or_refused(self, text: str) -> None:
        try:
            parse(text, "Ω")
        except EntryError as error:
            self.assertTrue(error.problem.message)


class Showing(unittest.TestCase):
    def test_as_people_write(self) -> None:
        for value, unit, text in [
            (0.15, "A", "150 mA"),
            (12.6, "V", "12.6 V"),
            (4700.0, "Ω", "4.7 kΩ"),
            (20e-6, "s", "20 µs"),
            (0.0, "V", "0 V"),
        ]:
            self.assertEqual(show(value, unit), text)

    def test_interval_spreads_both_ways(self) -> None:
        self.assertEqual(Interval.spread(100.0, 0.05), Interval(95.0, 100.0, 105.0))

    def test_what_is_printed_on_a_part(self) -> None:
        """Oracle: two digits and how many zeros follow, of picofarads, on a trimmer of ohms."""
        for text, farads in (("104", 1e-7), ("472", 4.7e-9), ("100", 1e-11), ("104 nF", 1.04e-7)):
            self.assertAlmostEqual(parse(text, "F") / farads, 1.0)
        for text, ohms in (("503", 50e3), ("104", 1e5), ("500", 500.0), ("4k7", 4700.0)):
            self.assertAlmostEqual(parse(text, "Ω", marked=True) / ohms, 1.0)
        self.assertEqual(parse("503", "Ω"), 503.0)

    def test_examples_in_the_docs_run(self) -> None:
        self.assertEqual(doctest.testmod(quantity).failed, 0)


class Series(unittest.TestCase):
    def test_sizes_and_known_members(self) -> None:
        self.assertEqual({k: len(v) for k, v in SERIES.items()}, {"E6": 6, "E12": 12, "E24": 24, "E96": 96})
        self.assertEqual(SERIES["E6"], (1.0, 1.5, 2.2, 3.3, 4.7, 6.8))
        self.assertIn(8.2, SERIES["E12"])
        self.assertIn(4.99, SERIES["E96"])
        self.assertIn(9.76, SERIES["E96"])

    @given(st.floats(min_value=0.1, max_value=1e8), st.sampled_from(sorted(SERIES)))
    def test_floor_and_ceil_bracket(self, value: float, series: str) -> None:
        low, high = floor(value, series), ceil(value, series)
        self.assertLessEqual(low, value * (1 + 1e-8))
        self.assertGreaterEqual(high, value * (1 - 1e-8))
        self.assertIn(nearest(value, series), (low, high))
        self.assertLessEqual(high / low, 1.6)

    def test_within_a_window(self) -> None:
        self.assertEqual(within(172, 300, "E12"), [180.0, 220.0, 270.0])
        self.assertEqual(within(300, 172), [])
        self.assertEqual(within(1, math.inf), [])
