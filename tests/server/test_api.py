"""The API over HTTP: history, stale saves, refusals as problem+json, import and export, the notebook, and
hygiene.
"""

import json
import subprocess
from pathlib import Path
from typing import Any

from api.app import api
from django.core.management import call_command
from django.test import Client, TestCase
from hexlet_core.stages.drives.nmos_low_side import NmosLowSide
from workshop.models import Design, Revision

ROOT = Path(__file__).resolve().parent.parent.parent


class Shed(TestCase):
    """Every test starts from the Quillmoor shed."""

    @classmethod
    def setUpTestData(cls) -> None:
        call_command("load_demo", verbosity=0)

    def setUp(self) -> None:
        self.fan = Design.objects.get(name="Roof-vent fan relay")
        self.at = f"/api/designs/{self.fan.id}"

    def get(self, path: str, status: int = 200) -> Any:
        response = self.client.get(path)
        self.assertEqual(response.status_code, status, response.content[:300])
        return response.json()

    def send(self, method: str, path: str, body: Any = None, status: int = 200) -> Any:
        response = getattr(self.client, method)(
            path, data=json.dumps(body or {}), content_type="application/json"
        )
        self.assertEqual(response.status_code, status, response.content[:300])
        return response.json()

    def save(self, changes: dict[str, Any], stamp: int | None = None, status: int = 200) -> Any:
        asked = [{"path": p, "value": v} for p, v in changes.items()]
        stamp = self.get(self.at)["stamp"] if stamp is None else stamp
        return self.send("post", f"{self.at}/change", {"changes": asked, "stamp": stamp}, status)


class Shelf(Shed):
    def test_the_demo_is_there_once(self) -> None:
        call_command("load_demo", verbosity=0)
        shelf = self.get("/api/shelf")
        self.assertEqual(shelf["designs"][0]["name"], "Roof-vent fan relay")
        self.assertEqual(len(shelf["designs"]), 14)
        self.assertEqual(shelf["designs"][0]["last"]["text"], "3.28 V")
        self.assertEqual(shelf["supply"], "10.8 / 12.6 / 14.4 V")
        for row in shelf["designs"]:
            self.assertEqual(len(row["facets"]), 6)

    def test_history_shows_the_boot_fault_and_its_repair(self) -> None:
        labels = list(self.fan.revisions.values_list("label", flat=True))
        self.assertIn("R2 6k8: it would have run at boot with 100k", labels)
        before = self.fan.revision.parent
        assert before is not None
        boot = next(
            v
            for v in self.send("post", "/api/answer", {"document": before.document})["evaluation"]["verdicts"]
            if v["check"] == "boot"
        )
        self.assertEqual(boot["standing"], "fails")

    def test_an_empty_shelf(self) -> None:
        Design.objects.update(deleted="2026-01-01T00:00:00Z")
        shelf = self.get("/api/shelf")
        self.assertEqual((shelf["designs"], shelf["supply"]), ([], ""))
        self.assertIsNotNone(shelf["deleted"])


class History(Shed):
    def test_save_undo_redo_survive(self) -> None:
        saved = self.save({"blocks.b2.r_gate": "270"})
        self.assertEqual(saved["document"]["blocks"]["b2"]["r_gate"], 270.0)
        self.assertIn("270", saved["undo_label"])
        undone = self.send("post", f"{self.at}/undo")
        self.assertEqual(undone["document"]["blocks"]["b2"]["r_gate"], 220.0)
        self.assertTrue(undone["can_redo"])
        again = self.get(self.at)
        self.assertTrue(again["can_redo"])
        self.assertEqual(self.send("post", f"{self.at}/redo")["document"]["blocks"]["b2"]["r_gate"], 270.0)

    def test_undo_stops_at_the_start(self) -> None:
        for _ in range(10):
            found = self.send("post", f"{self.at}/undo")
        self.assertFalse(found["can_undo"])
        self.assertEqual(found["revision"], 1)

    def test_saving_what_is_there_makes_no_revision(self) -> None:
        before = Revision.objects.count()
        self.save({"blocks.b2.r_gate": "220"})
        self.assertEqual(Revision.objects.count(), before)

    def test_a_stale_save_is_refused_with_both_versions(self) -> None:
        stamp = self.get(self.at)["stamp"]
        self.save({"blocks.b2.r_gate": "180"})
        refusal = self.save({"blocks.b2.r_gate": "270"}, stamp=stamp, status=409)
        self.assertEqual(refusal["theirs"]["document"]["blocks"]["b2"]["r_gate"], 180.0)
        self.assertEqual(refusal["mine"]["blocks"]["b2"]["r_gate"], 270.0)
        self.assertEqual([(d["mine"], d["theirs"]) for d in refusal["differences"]], [("270", "180")])
        self.assertEqual(self.get(self.at)["document"]["blocks"]["b2"]["r_gate"], 180.0)

    def test_each_choice_of_a_clash_is_told_with_what_comes_of_it(self) -> None:
        """Oracle: the burst grows as the resistor shrinks, less the pin's own resistance that stays in it."""
        document = self.get(self.at)["document"]
        choices = [{"path": "blocks.b2.r_gate", "value": "47"}, {"path": "notes", "value": "short"}]
        gate, notes = self.send("post", "/api/outcomes", {"document": document, "choices": choices})
        burst = next(o for o in gate if "burst" in o["title"].lower())
        mine, theirs = (float(burst[whose].split()[0]) for whose in ("mine", "theirs"))
        self.assertTrue(3.0 < mine / theirs < 220 / 47)
        self.assertEqual(notes, [])

    def test_delete_and_restore(self) -> None:
        gone = self.send("delete", self.at)
        self.get(self.at, 404)
        self.assertEqual(self.get("/api/shelf")["deleted"]["id"], gone["id"])
        self.assertEqual(self.send("post", f"{self.at}/restore")["name"], "Roof-vent fan relay")
        self.get(self.at)

    def test_names_stay_apart(self) -> None:
        refusal = self.save_name("Beacon relay", 422)
        self.assertEqual(refusal["problems"][0]["suggestion"], "Beacon relay 2")
        self.assertEqual(self.save_name("North vent", 200)["name"], "North vent")
        self.send("delete", self.at)
        made = self.send("post", "/api/designs", {"start": "coil"})
        self.assertEqual(made["name"], "New coil switch")
        self.assertEqual(self.send("post", "/api/designs", {"start": "coil"})["name"], "New coil switch 2")

    def save_name(self, name: str, status: int) -> Any:
        opened = self.get(self.at)
        return self.send(
            "put",
            self.at,
            {"document": {**opened["document"], "name": name}, "stamp": opened["stamp"]},
            status,
        )


class Refusals(Shed):
    def test_every_bad_entry_is_a_problem_at_its_field(self) -> None:
        before = Revision.objects.count()
        for path, value in (
            ("blocks.b2.r_gate", "2k2k"),
            ("blocks.b2.r_gate", "-1"),
            ("blocks.b2.r_gate", "0"),
            ("blocks.b2.r_gate", "1e300"),
            ("supply.low", "20"),
            ("blocks.b1.level", "3k3"),
        ):
            answer = self.save({"tolerance": 0.05, path: value}, status=422)
            with self.subTest(value):
                self.assertTrue(answer["problems"][0]["field"])
                self.assertTrue(answer["problems"][0]["message"])
        self.assertEqual(Revision.objects.count(), before)
        self.assertEqual(self.get(self.at)["document"]["tolerance"], 0.01)  # all of a request, or none

    def test_malformed_requests_never_break_the_server(self) -> None:
        for body in (
            "{",
            "[]",
            "null",
            '{"document": 3}',
            '{"document": {"format": "hexlet-design"}, "stamp": 1}',
        ):
            for method, path in (
                ("post", "/api/answer"),
                ("post", "/api/entry"),
                ("put", self.at),
                ("post", "/api/designs"),
                ("post", "/api/import"),
            ):
                response = getattr(self.client, method)(path, data=body, content_type="application/json")
                with self.subTest(body=body, path=path):
                    self.assertLess(response.status_code, 500)
        self.assertEqual(self.client.get("/api/designs/not-an-id").status_code, 422)

    def test_a_scripts_mistakes_are_named(self) -> None:
        document = self.get(self.at)["document"]
        answer = self.send(
            "post", "/api/answer", {"document": document, "script": {"stop": "-1", "events": []}}, 422
        )
        self.assertEqual(answer["problems"][0]["field"], "stop")


class Exchange(Shed):
    def test_export_delete_import_compares_equal(self) -> None:
        text = self.client.get(f"{self.at}/export/design").content.decode()
        self.send("delete", self.at)
        back = self.send("post", "/api/import", {"name": "fan.json", "text": text})
        self.assertEqual(back["document"], json.loads(text))

    def test_files(self) -> None:
        for what, start in (
            ("parts", b"ref,title"),
            ("waves", b"time,"),
            ("schematic", b"<svg"),
            ("design", b"{"),
        ):
            response = self.client.get(f"{self.at}/export/{what}")
            self.assertTrue(response.content.startswith(start))
            self.assertIn("roof-vent-fan-relay", response["Content-Disposition"])
        self.assertEqual(self.client.get(f"{self.at}/export/soup").status_code, 422)

    def test_broken_newer_and_large_files_change_nothing(self) -> None:
        document = self.get(self.at)["document"]
        before = Design.objects.count()
        for text, words in (
            ("{", "not a JSON document"),
            (json.dumps({**document, "version": 9}), "newer version"),
            ("x" * 1_000_001, "larger than 1000 kB"),
        ):
            answer = self.send("post", "/api/import", {"name": "f.json", "text": text}, 422)
            self.assertIn(words, answer["problems"][0]["message"])
        self.assertEqual(Design.objects.count(), before)

    def test_a_file_that_names_an_unknown_card_comes_in_with_that_part_marked(self) -> None:
        document = self.get(self.at)["document"]
        document["blocks"]["b2"]["card"] = "nothing"
        made = self.send("post", "/api/import", {"name": "f.json", "text": json.dumps(document)})
        answer = self.send("post", "/api/answer", {"document": made["document"]})
        marked = next(v for v in answer["evaluation"]["verdicts"] if v["id"] == "b2.card_there")
        self.assertEqual((marked["standing"], bool(marked["remedy"]["changes"])), ("fails", True))

    def test_schemas_are_published(self) -> None:
        for what in ("design", "netlist", "script"):
            self.assertIn("properties", self.get(f"/api/schema/{what}"))

    def test_drawer_lists_stock(self) -> None:
        rows = {r["id"]: r for r in self.get("/api/drawer")["cards"]}
        self.assertEqual(rows["nmos-55v-5a-logic"]["stock"], 6)
        self.assertEqual(rows["r-220"]["stock"], 11)


class Notebook(Shed):
    def test_steps(self) -> None:
        bench = self.get(f"{self.at}/bench")
        self.assertEqual(bench["progress"]["built"], 9)
        self.assertEqual(
            self.send("post", f"{self.at}/steps", {"step": "b3.diode.check", "done": True})["progress"][
                "built"
            ],
            10,
        )
        self.assertEqual(
            self.send("post", f"{self.at}/steps", {"step": "b3.diode.check", "done": False})["progress"][
                "built"
            ],
            9,
        )

    def test_what_is_not_there_is_neither_done_nor_read(self) -> None:
        for what, body in (
            ("steps", {"step": "b9.x.place", "done": True}),
            ("readings", {"rung": "x", "text": "1"}),
        ):
            answer = self.send("post", f"{self.at}/{what}", body, 422)
            self.assertIn("There is no such", answer["problems"][0]["message"])

    def test_readings_are_judged_retaken_and_taken_back(self) -> None:
        bench = self.send("post", f"{self.at}/readings", {"rung": "b2.drain.active", "text": "1.84"})
        self.assertEqual(bench["progress"]["outside"], 1)
        bench = self.send("post", f"{self.at}/readings", {"rung": "b2.drain.active", "text": "12m"})
        self.assertEqual((bench["progress"]["outside"], bench["progress"]["inside"]), (0, 2))
        bench = self.send("delete", f"{self.at}/readings/last")
        self.assertEqual(bench["progress"]["outside"], 1)
        bench = self.send("post", f"{self.at}/readings", {"rung": "b2.gate.active", "over_range": True})
        self.assertEqual(bench["progress"]["outside"], 2)
        bench = self.send("post", f"{self.at}/readings", {"rung": "b4.coil_current.active", "text": "131m"})
        self.assertEqual(
            next(r for r in bench["progress"]["rungs"] if r["expected"]["id"] == "b4.coil_current.active")[
                "judged"
            ]["standing"],
            "inside",
        )
        shelf = self.get("/api/shelf")
        self.assertEqual(
            next(r for r in shelf["designs"] if r["id"] == str(self.fan.id))["last"]["text"], "131 mA"
        )

    def test_a_reading_not_understood_is_refused_at_its_field(self) -> None:
        for text in ("", "abc", "1e9", "5 A"):
            answer = self.send("post", f"{self.at}/readings", {"rung": "b2.drain.active", "text": text}, 422)
            self.assertEqual(answer["problems"][0]["field"], "reading")

    def test_the_supply_read_moves_the_bands(self) -> None:
        bench = self.send("put", f"{self.at}/supply", {"text": "11.2"})
        self.assertAlmostEqual(
            next(r for r in bench["progress"]["rungs"] if r["expected"]["id"] == "b2.drain.idle")["expected"][
                "nominal"
            ],
            11.2,
            delta=0.01,
        )
        self.assertEqual(
            self.send("put", f"{self.at}/supply", {"text": "0"}, 422)["problems"][0]["field"], "supply"
        )

    def test_a_new_revision_starts_its_own_run(self) -> None:
        self.save({"blocks.b2.r_gate": "270"})
        self.assertEqual(self.get(f"{self.at}/bench")["progress"]["inside"], 0)


class Hygiene(Shed):
    def test_the_schema_is_committed(self) -> None:
        kept = json.loads((ROOT / "server" / "openapi.json").read_text("utf-8"))
        self.assertEqual(kept, json.loads(json.dumps(api.get_openapi_schema(path_prefix="/api/"))))

    def test_posts_need_a_token_and_hosts_are_checked(self) -> None:
        strict = Client(enforce_csrf_checks=True)
        self.assertEqual(
            strict.post("/api/designs", data="{}", content_type="application/json").status_code, 403
        )
        self.assertEqual(self.client.get("/api/shelf", headers={"host": "evil.example"}).status_code, 400)

    def test_pages_carry_the_policy(self) -> None:
        for path in ("/", "/design/x/drive"):
            response = self.client.get(path)
            self.assertEqual(response.status_code, 200)
            self.assertIn("default-src 'self'", response["Content-Security-Policy"])
        self.assertEqual(self.client.get("/robots.txt")["Content-Type"], "text/plain")

    def test_reading_writes_nothing(self) -> None:
        with self.assertNumQueries(0):
            document = NmosLowSide().model_dump(mode="json")
        self.assertTrue(document)
        before = Revision.objects.count()
        self.send("post", "/api/answer", {"document": self.get(self.at)["document"]})
        self.assertEqual(Revision.objects.count(), before)

    def test_no_file_names_a_registry_and_no_view_holds_a_formula(self) -> None:
        files = subprocess.run(
            ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
        ).stdout.split()
        hosts = ["registry" + ".npmjs", "files.pythonhosted" + ".org", "pypi" + ".org"]
        for file in files:
            if file.endswith((".png", ".woff2")) or not (ROOT / file).is_file():
                continue
            text = (ROOT / file).read_text("utf-8", errors="ignore")
            for host in hosts:
                self.assertNotIn(host, text, file)
            if file.startswith("web/src/features"):
                self.assertNotRegex(text, r"Math\.(exp|pow|sqrt)", file)
