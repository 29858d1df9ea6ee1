"""Files in and out, and the command line. Oracle: what is written is read back equal; every refusal exits 2
and names the field.
"""

import csv
import io
import json
import tempfile
import unittest
from contextlib import redirect_stderr, redirect_stdout
from pathlib import Path
from typing import Any
from unittest import mock
from xml.etree import ElementTree

import numpy as np
from hexlet_core import __main__ as cli
from hexlet_core.design.study import study
from hexlet_core.errors import DocumentError
from hexlet_core.formats.netlist import read_netlist, solve_document
from hexlet_core.formats.svg import schematic_svg
from hexlet_core.formats.tables import _safe, parts_csv, waves_csv
from hexlet_core.rehearsal.rehearse import waves_of
from hexlet_core.rehearsal.script import presets

from .circuits import fan

NETLIST: dict[str, Any] = {
    "format": "hexlet-netlist",
    "version": 1,
    "devices": [
        {"device": "voltage", "name": "V1", "a": "in", "b": "0", "value": "12V"},
        {"device": "resistor", "name": "R1", "a": "in", "b": "out", "resistance": "4k7"},
        {"device": "diode", "name": "D1", "a": "out", "k": "0", "card": "diode-1a-100v"},
    ],
}


class Tables(unittest.TestCase):
    def test_parts_list(self) -> None:
        rows = list(csv.DictReader(io.StringIO(parts_csv(study(fan()).parts))))
        self.assertEqual({r["ref"] for r in rows}, {"R1", "R2", "Q1", "D1", "K1"})

    def test_spreadsheet_formulas_are_defused(self) -> None:
        self.assertEqual(_safe("=1+1"), "'=1+1")
        self.assertEqual(_safe("220"), "220")

    def test_waves_read_back(self) -> None:
        waves = waves_of(study(fan()), presets(study(fan()))[0])
        rows = list(csv.reader(io.StringIO(waves_csv(waves))))
        self.assertEqual(rows[0][0], "time")
        table = np.array(rows[1:], float)
        np.testing.assert_allclose(
            table[:, rows[0].index("b2.drain")], waves["b2.drain"], rtol=1e-7, atol=1e-9
        )


class Svg(unittest.TestCase):
    def test_it_is_well_formed_and_names_every_part(self) -> None:
        text = schematic_svg(study(fan()).drawing, "Fan & <relay>")
        root = ElementTree.fromstring(text)
        self.assertTrue(root.tag.endswith("svg"))
        words = " ".join(t.text or "" for t in root.iter() if t.tag.endswith("text"))
        for word in ("R1", "R2", "Q1", "D1", "K1", "220", "6k8", "96 Ω", "3.3 V"):
            self.assertIn(word, words)


class Netlists(unittest.TestCase):
    def test_operating_point_with_a_card(self) -> None:
        point = solve_document(read_netlist(NETLIST)).columns
        self.assertAlmostEqual(point["in"][0] or 0.0, 12.0)
        self.assertLess(abs((point["out"][0] or 0.0) - 0.55), 0.1)

    def test_transient(self) -> None:
        found = solve_document(
            read_netlist({**NETLIST, "analysis": {"kind": "transient", "stop": "10m"}})
        ).columns
        self.assertEqual(next(iter(found)), "time")
        self.assertAlmostEqual(found["time"][-1] or 0.0, 0.01)

    def test_refusals(self) -> None:
        def devices(*more: object) -> dict[str, object]:
            return {**NETLIST, "devices": [*NETLIST["devices"], *more]}  # type: ignore[misc]

        for data, words in (
            (devices({"device": "flux", "name": "X"}), "devices\\[3\\].*not one of the choices"),
            (
                devices({"device": "diode", "name": "D2", "a": "in", "k": "0", "card": "none"}),
                "devices\\[3\\].card",
            ),
            (
                devices(
                    {
                        "device": "diode",
                        "name": "D2",
                        "a": "in",
                        "k": "0",
                        "card": {"kind": "npn", "id": "x", "title": "x"},
                    }
                ),
                "devices\\[3\\].card.v_ceo",
            ),
            (
                devices({"device": "resistor", "name": "R2", "a": "in", "b": "0"}),
                "devices\\[3\\].resistance: This is missing",
            ),
            (
                devices({"device": "resistor", "name": "R2", "a": "in", "b": "0", "resistance": 0}),
                "devices\\[3\\].resistance",
            ),
            ({**NETLIST, "format": "other"}, "not a netlist"),
            ({**NETLIST, "devices": []}, "devices"),
        ):
            with self.subTest(words), self.assertRaisesRegex(DocumentError, words):
                read_netlist(data)


class CommandLine(unittest.TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.folder = Path(folder.name)

    def file(self, name: str, data: object) -> str:
        path = self.folder / name
        path.write_text(data if isinstance(data, str) else json.dumps(data), "utf-8")
        return str(path)

    def run_it(self, *argv: str) -> tuple[int, str, str]:
        out, err = io.StringIO(), io.StringIO()
        with mock.patch("sys.argv", ["hexlet_core", *argv]), redirect_stdout(out), redirect_stderr(err):
            status = cli.main()
        return status, out.getvalue(), err.getvalue()

    def test_every_command_answers(self) -> None:
        design = self.file("d.json", fan().model_dump(mode="json"))
        status, out, _ = self.run_it("evaluate", design)
        self.assertEqual((status, json.loads(out)["standing"]), (0, "fits"))
        self.assertEqual(len(json.loads(self.run_it("rehearse", design)[1])["lanes"]), 6)
        waves = str(self.folder / "w.csv")
        script = self.file(
            "s.json", {"title": "x", "stop": "20m", "events": [{"do": "set", "at": "5m", "level": "high"}]}
        )
        self.assertEqual(self.run_it("rehearse", design, "--script", script, "--out", waves)[0], 0)
        self.assertIn("time,", Path(waves).read_text("utf-8"))
        net = self.file("n.json", NETLIST)
        self.assertAlmostEqual(json.loads(self.run_it("solve", net)[1])["columns"]["in"][0], 12.0)
        self.assertTrue(self.run_it("solve", net, "--csv")[1].startswith("in,out,i(V1)"))
        self.assertIn("nmos_low_side", self.run_it("kinds")[1])
        self.assertIn("relay-12v-96r", self.run_it("parts")[1])
        for what in ("design", "netlist", "script"):
            self.assertIn("properties", json.loads(self.run_it("schema", what)[1]))

    def test_errors_name_the_field_and_exit_2(self) -> None:
        data = fan().model_dump(mode="json")
        data["blocks"]["b2"]["r_gate"] = "-470k"
        floating = {
            **NETLIST,
            "devices": [
                *NETLIST["devices"],
                {"device": "capacitor", "name": "C9", "a": "in", "b": "nowhere", "capacitance": 1e-6},
            ],
        }  # type: ignore[misc]
        for argv, words in (
            (("evaluate", self.file("a.json", data)), "blocks.b2.r_gate"),
            (("evaluate", self.file("b.json", "{")), "not a JSON document"),
            (("evaluate", str(self.folder / "none.json")), "no such file"),
            (("solve", self.file("c.json", floating)), "nowhere: This node floats"),
            (("evaluate", self.file("big.json", " " * 5_000_001)), "larger than 5 MB"),
        ):
            status, out, err = self.run_it(*argv)
            self.assertEqual((status, out), (2, ""))
            self.assertIn(words, err)
