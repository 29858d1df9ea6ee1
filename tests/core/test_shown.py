"""How numbers are said: one table of cases for both sides, the front end's units read the same file."""

import json
import unittest
from pathlib import Path

from hexlet_core.quantity import show, show_part

TABLE = json.loads((Path(__file__).parent.parent / "shown.json").read_text("utf-8"))


class Shown(unittest.TestCase):
    def test_every_case_of_the_shared_table(self) -> None:
        for case in TABLE["shown"]:
            self.assertEqual(show(case["value"], case["unit"], case["digits"]), case["text"])
        for case in TABLE["parts"]:
            self.assertEqual(show_part(case["value"]), case["text"])
