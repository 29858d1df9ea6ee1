"""The fan relay's numbers, kept. `make golden` writes them anew; read the diff before committing it."""

import json
import os
import unittest
from pathlib import Path

from hexlet_core.design.evaluate import evaluate
from hexlet_core.design.study import study
from hexlet_core.prove.expect import expectations

from .circuits import fan

FILE = Path(__file__).with_name("golden_fan.json")


def numbers() -> dict[str, object]:
    """Verdicts, windows and expected readings, to four digits."""
    found = evaluate(study(fan()))
    return {
        "verdicts": {
            v.id: [v.standing, float(f"{v.nominal:.4g}"), float(f"{v.worst:.4g}"), float(f"{v.limit:.4g}")]
            for v in sorted(found.verdicts, key=lambda v: v.id)
        },
        "windows": {
            w.ref: [float(f"{b.value:.4g}") if b else None for b in (w.low, w.high)] for w in found.windows
        },
        "readings": {
            e.id: [float(f"{e.low:.4g}"), float(f"{e.high:.4g}")] for e in expectations(study(fan()))
        },
    }


class Golden(unittest.TestCase):
    def test_the_numbers_are_those_kept(self) -> None:
        if os.environ.get("HEXLET_GOLDEN") == "write":
            FILE.write_text(json.dumps(numbers(), indent=1) + "\n", "utf-8")
        self.assertEqual(numbers(), json.loads(FILE.read_text("utf-8")))
