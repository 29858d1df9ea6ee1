"""What may be asked of a netlist on the command line: what is refused in words, and answers found by another
way.
"""

import io
import json
import math
import subprocess
import sys
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any
from unittest import mock

from hexlet_core import __main__ as cli
from hexlet_core.circuit.devices import DEVICES
from hexlet_core.errors import DocumentError
from hexlet_core.fields import read_json
from hexlet_core.formats.analysis import Answer
from hexlet_core.formats.cards import read_rows
from hexlet_core.formats.netlist import read_netlist, solve_document
from hexlet_core.roots import root
from pydantic import ValidationError

BUTTON = {
    "device": "button",
    "name": "S1",
    "com": "a",
    "no": "x",
    "presses": [{"at": "1m", "hold": "2m"}],
    "bounce": {"duration": "0.2m"},
}
RC = [
    {"device": "voltage", "name": "V1", "a": "a", "b": "0", "value": 10},
    {"device": "resistor", "name": "R1", "a": "a", "b": "m", "resistance": "1k", "tolerance": 0.05},
    {"device": "resistor", "name": "R2", "a": "m", "b": "0", "resistance": "1k", "tolerance": 0.05},
]
POINT = {"kind": "operating_point", "measures": [{"name": "middle", "what": "level", "signal": "m"}]}


def netlist(analysis: object, *more: object, devices: list[Any] = RC, **rest: Any) -> dict[str, Any]:
    return {
        "format": "hexlet-netlist",
        "version": 1,
        "devices": [*devices, *more],
        "analysis": analysis,
        **rest,
    }


def asked(analysis: object, *more: object, **rest: Any) -> Answer:
    return solve_document(read_netlist(netlist(analysis, *more, **rest)))


class Answers(unittest.TestCase):
    def test_the_value_at_which_a_level_is_passed(self) -> None:
        """Oracle: Ohm's law turned round: R2/(R1 + R2) = 0.3."""
        answer = asked(
            {
                "kind": "find",
                "number": "R2.resistance",
                "low": 10,
                "high": "10k",
                "of": POINT,
                "measure": "middle",
                "level": 3,
            }
        )
        self.assertAlmostEqual(answer.columns["R2.resistance"][0] or 0.0, 3000 / 7, delta=0.01)
        with self.assertRaisesRegex(DocumentError, "not passed between"):
            asked(
                {
                    "kind": "find",
                    "number": "R2.resistance",
                    "low": 10,
                    "high": 20,
                    "of": POINT,
                    "measure": "middle",
                    "level": 3,
                }
            )

    def test_a_root(self) -> None:
        """Oracle: the functions' inverses."""
        self.assertAlmostEqual(root(lambda x: x**3 - 8, 0, 10), 2.0, places=9)
        self.assertAlmostEqual(root(lambda x: math.exp(x) - 1e6, 0, 50), math.log(1e6), places=9)
        with self.assertRaises(ValueError):
            root(lambda x: x * x + 1, -1, 1)

    def test_a_sweep_that_carries_its_state(self) -> None:
        """Oracle: hysteresis. Up, the latch lets go high; down again it holds on lower than that."""
        latch = [
            {"device": "voltage", "name": "VI", "a": "in", "b": "0", "value": 0},
            {"device": "voltage", "name": "VP", "a": "p", "b": "0", "value": 5},
            {"device": "resistor", "name": "RI", "a": "in", "b": "b1", "resistance": "100k"},
            {"device": "resistor", "name": "RF", "a": "c2", "b": "b1", "resistance": "220k"},
            {"device": "resistor", "name": "RB", "a": "b1", "b": "0", "resistance": "33k"},
            {"device": "bipolar", "name": "Q1", "c": "c1", "b": "b1", "e": "0"},
            {"device": "resistor", "name": "R1", "a": "p", "b": "c1", "resistance": "10k"},
            {"device": "resistor", "name": "RK", "a": "c1", "b": "b2", "resistance": "10k"},
            {"device": "bipolar", "name": "Q2", "c": "c2", "b": "b2", "e": "0"},
            {"device": "resistor", "name": "R2", "a": "p", "b": "c2", "resistance": "1k"},
        ]
        up = [k * 0.25 for k in range(21)]
        values = [*up, *up[-2::-1]]
        c2 = asked(
            {"kind": "sweep", "number": "VI.value", "values": values, "carry": True}, devices=latch
        ).columns["c2"]
        rise = next(v for v, x in zip(values, c2, strict=True) if (x or 0.0) > 2.5)
        fall = next(v for v, x in reversed(list(zip(values, c2, strict=True))) if (x or 0.0) > 2.5)
        self.assertGreater(rise, fall + 0.5)

    def test_numbers_inside_presses_and_events(self) -> None:
        """Oracle: the time a button is closed is what it is held for, less the plunger's travel; a ramp's
        middle is half of it.
        """
        of = {
            "kind": "transient",
            "stop": "10m",
            "measures": [{"name": "on", "what": "time_above", "signal": "x", "level": 5}],
        }
        button = [
            {k: v for k, v in BUTTON.items() if k != "bounce"},
            {"device": "resistor", "name": "RX", "a": "x", "b": "0", "resistance": "1k"},
        ]
        found = asked(
            {"kind": "sweep", "number": "S1.presses[0].hold", "values": [1e-3, 3e-3], "of": of}, *button
        ).columns["on"]
        self.assertAlmostEqual((found[1] or 0.0) - (found[0] or 0.0), 2e-3, delta=1e-6)
        supply = {"do": "supply", "source": "V1", "at": "1m", "volts": 0, "ramp": "1m"}
        half = {
            "kind": "transient",
            "stop": "10m",
            "measures": [{"name": "half", "what": "delay", "signal": "a", "level": 5}],
        }
        swept = asked(
            {"kind": "sweep", "number": "events[0].ramp", "values": [2e-3, 6e-3], "of": half}, events=[supply]
        ).columns["half"]
        self.assertAlmostEqual((swept[1] or 0.0) - (swept[0] or 0.0), 2e-3, delta=1e-6)

    def test_what_happens_at_once_after_a_settled_start(self) -> None:
        """Oracle: pressed at 0, a button is held from the start; settled before it, the capacitor has the
        whole way to go.
        """
        rc = [
            BUTTON | {"presses": []},
            {"device": "resistor", "name": "RX", "a": "x", "b": "0", "resistance": "1k"},
            {"device": "capacitor", "name": "C", "a": "x", "b": "0", "capacitance": "1u", "esr": 100},
        ]
        press = [{"do": "press", "button": "S1", "at": 0, "hold": "20m"}]
        at = [
            asked(
                {
                    "kind": "transient",
                    "stop": "10m",
                    "settled_before": s,
                    "measures": [{"name": "q", "what": "highest", "signal": "i(C.a)"}],
                },
                *rc,
                events=press,
            ).notes
            for s in (False, True)
        ]
        self.assertLess(at[0]["measured"]["q"], 1e-6)
        self.assertGreater(at[1]["measured"]["q"], 0.05)

    def test_extra_columns_and_joint_wishes(self) -> None:
        """Oracle: Ohm's law; and a wish that excludes the other is met by none."""
        columns = asked({"kind": "operating_point", "columns": ["p(R1)", "i(R2)"]}).columns
        self.assertAlmostEqual(columns["p(R1)"][0] or 0.0, 0.025, places=6)
        self.assertAlmostEqual(columns["i(R2)"][0] or 0.0, 5e-3, places=6)
        for above, share in ((5.0, 0.0), (0.0, None)):
            wishes = {
                "middle": [0.0, 5.0],
                "a": [0.0, 20.0],
                "m": [above, 5.0 - 1e-9 if above == 0.0 else 20.0],
            }
            notes = asked({"kind": "monte_carlo", "count": 60, "of": POINT, "wishes": wishes}).notes
            met = notes["statistics"]["middle"]["met"]
            self.assertAlmostEqual(notes["met_together"], met if share is None else share, delta=1e-9)
            self.assertTrue(0.3 < met < 0.7)


class Refusals(unittest.TestCase):
    def test_in_words(self) -> None:
        transient = {"kind": "transient", "stop": "1m"}
        for data, words in (
            (netlist(POINT, RC[1]), "devices\\[1\\] and devices\\[3\\]"),
            (
                netlist(POINT | {"measures": [{"name": "m", "what": "level", "signal": "a"}]}),
                "called that already",
            ),
            (netlist(POINT | {"measures": [{"name": "q", "what": "level", "signal": "a"}] * 2}), "called q"),
            (netlist(POINT | {"measures": [{"name": "q", "what": "mean", "signal": "a"}]}), "has no mean"),
            (netlist(POINT | {"guess": {"nowhere": 1}}), "no node of that name"),
            (
                netlist(transient | {"measures": [{"name": "q", "what": "level", "signal": "state(R1)"}]}),
                "that name",
            ),
            (
                netlist(
                    transient
                    | {"measures": [{"name": "q", "what": "level", "signal": "m", "after": 2, "until": 1}]}
                ),
                "ends before it begins",
            ),
            (netlist({"kind": "sweep", "number": "R1.resistance", "values": [0], "of": POINT}), "outside"),
            (
                netlist(
                    {
                        "kind": "sweep",
                        "number": "R1.resistance",
                        "values": [1e3],
                        "of": transient | {"measures": [{"name": "q", "what": "level", "signal": "zz"}]},
                    }
                ),
                "that name",
            ),
            (
                netlist({"kind": "monte_carlo", "of": POINT, "wishes": {"middle": [2, 1]}}),
                "lower number comes first",
            ),
            (
                netlist({"kind": "monte_carlo", "of": POINT, "wishes": {"nothing": [1, 2]}}),
                "does not measure",
            ),
            (
                netlist(
                    {"kind": "sweep", "number": "S1.presses[7].hold", "values": [1e-3]},
                    BUTTON,
                    {**RC[1], "name": "RX", "a": "x", "b": "0"},
                ),
                "has that name",
            ),
            (netlist({"kind": "sweep", "number": "events[0].ramp", "values": [1e-3]}), "no such event"),
            (
                netlist(POINT, {"device": "resistor", "name": "R9", "a": "i(V1)", "b": "0", "resistance": 1}),
                "cannot stand in a name",
            ),
            (
                netlist(
                    POINT,
                    {
                        "device": "relay",
                        "name": "K",
                        "a": "a",
                        "b": "0",
                        "resistance": 1,
                        "inductance": 1,
                        "pull_in": 1,
                        "drop_out": 2,
                    },
                ),
                "less current",
            ),
            (
                netlist(POINT, {"device": "switch", "name": "S", "a": "a", "b": "0", "times": [2, 1]}),
                "backwards",
            ),
            (
                netlist(
                    POINT, {"device": "resistor", "name": "R9", "a": "a", "b": "0", "resistance": 10**400}
                ),
                "infinite",
            ),
        ):
            with self.subTest(words), self.assertRaisesRegex(DocumentError, words):
                solve_document(read_netlist(data))

    def test_a_mark_before_the_text_is_no_matter(self) -> None:
        self.assertEqual(read_json("\ufeff{}"), {})
        self.assertEqual(read_json(b"\xef\xbb\xbf[1]"), [1])
        from hexlet_core.cards import Drawer

        rows = read_rows("\ufefftitle,kind\nX,resistor\n", "f.csv", Drawer())
        self.assertEqual(len(rows), 1)

    def test_every_lists_greatest_length_is_packed_or_refused(self) -> None:
        """Every device with lists, at the length its model allows: packed, or refused by the model."""
        for kind in DEVICES:
            for name, field in kind.model_fields.items():
                most = next((m.max_length for m in field.metadata if hasattr(m, "max_length")), None)
                if most is None or name in ("spread", "lot"):
                    continue
                made = {
                    "poles": [{"com": "p", "no": f"n{k}"} for k in range(most)],
                    "taps": {k + 1: f"q{k}" for k in range(most)},
                    "presses": [{"at": 0.1 * (k + 1), "hold": 0.01} for k in range(most)],
                    "turns": [(0.1 * k, 0.5) for k in range(most)],
                }.get(name)
                if made is None:
                    continue
                with self.subTest(f"{kind.__name__}.{name}"):
                    nodes = {
                        f: f"t{k}" for k, f in enumerate(kind.terminals) if kind.model_fields[f].is_required()
                    }
                    needed = {
                        "resistance": 100.0,
                        "inductance": 0.1,
                        "pull_in": 0.1,
                        "drop_out": 0.01,
                        "no": "t9",
                    }
                    given = {k: v for k, v in needed.items() if k in kind.model_fields}
                    device = kind(name="X", **(nodes | given | {name: made}))  # type: ignore[arg-type]
                    from hexlet_core.circuit.netlist import Netlist

                    packed = Netlist.of([device]).packed
                    self.assertGreaterEqual(len(packed.fa), 1)
                    with self.assertRaises(ValidationError):
                        longer = [*made, made[-1]] if isinstance(made, list) else {**made, most + 1: "qq"}  # type: ignore[dict-item]
                        kind(name="X", **(nodes | given | {name: longer}))  # type: ignore[arg-type]


class CommandLine(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def run_it(self, *argv: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with mock.patch("sys.argv", ["hexlet_core", *argv]), redirect_stdout(out), redirect_stderr(err):
            status = cli.main()
        return status, out.getvalue(), err.getvalue()

    def file(self, text: str | bytes) -> str:
        path = self.folder / "n.json"
        path.write_bytes(text if isinstance(text, bytes) else text.encode("utf-8", "surrogatepass"))
        return str(path)

    def test_one_line_and_status_2(self) -> None:
        chain = [
            RC[0],
            *(
                {
                    "device": "resistor",
                    "name": f"R{k}",
                    "a": "a" if k == 0 else f"n{k}",
                    "b": f"n{k + 1}" if k < 1199 else "0",
                    "resistance": 1,
                }
                for k in range(1200)
            ),
        ]
        self.assertEqual(
            self.run_it("solve", self.file(json.dumps(netlist({"kind": "operating_point"}, devices=chain))))[
                0
            ],
            0,
        )
        design = json.dumps(netlist(POINT))
        for argv in (
            ("solve", self.file('{"format": "hexlet-netlist", "devices": [' + "9" * 5000 + "]}")),
            ("solve", "x" * 5000),
            ("solve", str(self.folder)),
            ("solve", "a\0b"),
            ("solve", self.file(design.replace('"R1"', '"R\\ud800"'))),
            ("solve", self.file(b"\xff\xfe\x00")),
            ("solve", self.file('{"format": "hexlet-netlist", "devices": [' * 3000)),
        ):
            status, out, err = self.run_it(*argv)
            self.assertEqual((status, out), (2, ""), argv[1][:60])
            self.assertTrue(err.strip() and "Traceback" not in err, err)

    def test_an_output_that_cannot_be_written(self) -> None:
        from .circuits import fan

        path = self.folder / "d.json"
        path.write_text(fan().model_dump_json(), "utf-8")
        for out in (
            str(self.folder),
            str(self.folder / "none" / "w.csv"),
            str(self.folder / ("w" * 400)),
            "/dev/full",
        ):
            status, _, err = self.run_it("rehearse", str(path), "--out", out)
            self.assertEqual(status, 2)
            self.assertIn("--out: This file cannot be written", err)

    def test_stopped_by_hand(self) -> None:
        with mock.patch.object(cli, "_read", side_effect=KeyboardInterrupt):
            status, _, err = self.run_it("solve", "x.json")
        self.assertEqual((status, err), (130, "Stopped.\n"))

    def test_a_divider_needs_no_compiler(self) -> None:
        """What is asked for often and small is answered without loading the kernel or what it is compiled
        with.
        """
        script = (
            "import sys; sys.argv = ['hexlet_core', *sys.argv[1:]]\nfrom hexlet_core.__main__ import "
            "main\nstatus = main()\n"
            "print([m for m in ('numba', 'scipy', 'django') if m in sys.modules], "
            "file=sys.stderr)\nsys.exit(status)"
        )
        for argv in (("--help",), ("parts",), ("schema",), ("solve", self.file(json.dumps(netlist(POINT))))):
            ran = subprocess.run(
                [sys.executable, "-c", script, *argv], capture_output=True, text=True, check=False
            )
            self.assertEqual(ran.returncode, 0, ran.stderr)
            self.assertTrue(ran.stderr.endswith("[]\n") or argv == ("--help",), ran.stderr)
