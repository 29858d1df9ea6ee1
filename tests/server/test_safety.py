"""The shelf with what cannot be worked out on it, the database looked after, and what stands at the door.

Oracles: files compared byte by byte, the count of rows, and time measured against one row's own.
"""

import json
import os
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path
from unittest.mock import patch

from api import standings, storage
from config import safety
from config.serve import port_of
from django.db import DatabaseError, OperationalError
from django.test import TestCase, TransactionTestCase, override_settings
from drawer import actions as parts
from hexlet_core.design.document import Design as Document
from hexlet_core.design.starts import start
from workshop import actions
from workshop.models import Design

from .test_api import Shed


class OneBadDesign(Shed):
    """A design that cannot be worked out is a row that says so; the others are as they were."""

    def spoilt(self, **changes: object) -> Design:
        design = actions.create(start("coil"), name="Spoilt")
        design.revision.document = {**design.revision.document, **changes}
        design.revision.save()
        return design

    def test_it_is_a_row_that_says_so(self) -> None:
        for changes in ({"blocks": {"b1": {"kind": "nonsense"}}}, {"supply": None}, {"version": 99}):
            design = self.spoilt(**changes)
            shelf = self.get("/api/shelf")
            row = next(r for r in shelf["designs"] if r["id"] == str(design.id))
            self.assertTrue(row["problem"], changes)
            self.assertTrue(all(not r["problem"] for r in shelf["designs"] if r is not row))
            self.get("/api/drawer")
            actions.delete(design.id)

    def test_a_card_that_goes_leaves_its_design_working(self) -> None:
        own = {**self.get("/api/cards/nmos-55v-5a-logic")["card"], "id": "mine"}
        self.send("put", "/api/cards/mine", {"card": own, "stock": 1})
        document = start("coil").model_dump(mode="json")
        document["blocks"]["b2"]["card"] = "mine"
        made = actions.create(Document.model_validate(document))
        self.assertEqual(self.send("post", "/api/drawer/undo", {})["undo"], "")
        row = next(r for r in self.get("/api/shelf")["designs"] if r["id"] == str(made.id))
        self.assertEqual((row["problem"], row["next_facet"]), ("", "drive"))
        actions.delete(made.id)
        self.send("post", f"/api/designs/{made.id}/restore", {})
        parts.put("mine", 1, {**self.get("/api/cards/npn-60v-1a")["card"], "id": "mine"})
        self.get("/api/shelf")

    def test_a_taken_name_does_not_stop_later_saves(self) -> None:
        first = actions.create(start("coil"), name="Pump")
        actions.change(first.id, [("name", "Other")], first.stamp, "")
        actions.create(start("coil"), name="Pump")
        back = self.send("post", f"/api/designs/{first.id}/undo", {})
        self.assertEqual((back["name"], back["document"]["name"]), ("Pump 2", "Pump 2"))
        body = {"changes": [{"path": "blocks.b2.r_gate", "value": 330}], "stamp": back["stamp"], "label": ""}
        saved = self.send("post", f"/api/designs/{first.id}/change", body)
        self.assertEqual(saved["document"]["blocks"]["b2"]["r_gate"], 330.0)
        gone = actions.delete(first.id)
        actions.create(start("coil"), name="Pump 2")
        again = self.send("post", f"/api/designs/{gone.id}/restore", {})
        body["stamp"] = again["stamp"]
        body["changes"] = [{"path": "blocks.b2.r_gate", "value": 390}]
        self.assertEqual(self.send("post", f"/api/designs/{gone.id}/change", body)["name"], again["name"])


class Rows(TransactionTestCase):
    """What is not known yet never holds the list up."""

    @override_settings(STANDINGS_AT_ONCE=False)
    def test_the_list_comes_first_and_the_rows_follow(self) -> None:
        made = [actions.create(start("coil")) for _ in range(3)]
        first = json.loads(self.client.get("/api/shelf").content)["designs"]
        self.assertEqual([r["pending"] for r in first], [True] * 3)
        self.assertTrue(standings.settle(60))
        then = json.loads(self.client.get("/api/shelf").content)["designs"]
        self.assertEqual([r["pending"] for r in then], [False] * 3)
        actions.change(made[0].id, [("blocks.b2.r_gate", 330.0)], made[0].stamp, "")
        last = json.loads(self.client.get("/api/shelf").content)["designs"]
        self.assertEqual(sum(r["pending"] for r in last), 1)
        self.assertTrue(all(r["path"] == then[0]["path"] for r in last), "what was known is still shown")
        self.assertTrue(standings.settle(60))


class LookedAfter(TestCase):
    def setUp(self) -> None:
        folder = tempfile.TemporaryDirectory()
        self.addCleanup(folder.cleanup)
        self.file = Path(folder.name) / "hexlet.sqlite3"
        with closing(sqlite3.connect(self.file)) as db:
            db.execute("create table t (a)")
            db.executemany("insert into t values (?)", [(k,) for k in range(5000)])
            db.commit()
        moved = patch.object(safety, "file", lambda: self.file)
        moved.start()
        self.addCleanup(moved.stop)

    def count(self) -> int:
        with closing(sqlite3.connect(self.file)) as db:
            return int(db.execute("select count(*) from t").fetchone()[0])

    def test_a_copy_brings_everything_back_and_sets_the_present_aside(self) -> None:
        copied = safety.copy("daily")
        with closing(sqlite3.connect(self.file)) as db:
            db.execute("delete from t")
            db.commit()
        found, aside = safety.restore()
        assert aside is not None
        self.assertEqual((found, self.count()), (copied, 5000))
        with closing(sqlite3.connect(aside)) as db:
            self.assertEqual(db.execute("select count(*) from t").fetchone()[0], 0)

    def test_a_damaged_file_is_seen_and_kept_byte_by_byte(self) -> None:
        safety.copy("daily")
        for spoil in (b"", b"not a database at all" * 100):
            whole = bytearray(self.file.read_bytes())
            whole[4096:12288] = os.urandom(8192) if not spoil else spoil[:1] * 8192
            damaged = spoil or bytes(whole)
            self.file.write_bytes(damaged)
            self.assertFalse(safety.sound(self.file))
            aside = safety.set_aside("broken")
            assert aside is not None
            self.assertEqual(aside.read_bytes(), damaged)
            safety.restore()
            self.assertEqual(self.count(), 5000)

    def test_a_file_that_was_cut_off_is_no_new_one(self) -> None:
        safety.copy("daily")
        self.file.write_bytes(b"")
        self.assertFalse(safety.sound(self.file))
        safety.restore()
        self.assertEqual(self.count(), 5000)

    def test_one_copy_a_day_and_only_so_many(self) -> None:
        safety.copy_daily()
        safety.copy_daily()
        self.assertEqual(len(safety.copies()), 1)
        for _ in range(safety.KEPT + 3):
            safety.copy("before-migration")
        self.assertEqual(len(safety.copies()), safety.KEPT)

    def test_without_a_copy_nothing_is_changed(self) -> None:
        with self.assertRaisesRegex(safety.Unusable, "Nothing was changed"):
            safety.restore()
        self.assertEqual(self.count(), 5000)


class InWords(Shed):
    def test_what_the_database_refuses_is_said(self) -> None:
        for said, kind, status in (
            ("database or disk is full", "disk-full", 507),
            ("attempt to write a readonly database", "read-only", 503),
            ("database is locked", "locked", 503),
            ("database disk image is malformed", "damaged", 503),
            ("no such table: workshop_standing", "old-form", 503),
            ("something new", "database", 503),
        ):
            with patch("workshop.actions._revise", side_effect=OperationalError(said)):
                answer = self.client.post(
                    "/api/designs", data=json.dumps({"start": "coil"}), content_type="application/json"
                )
            body = json.loads(answer.content)
            self.assertEqual((answer.status_code, body["type"]), (status, f"hexlet:{kind}"))
            self.assertIn("Nothing that was saved is lost", body["problems"][0]["message"])
            self.assertNotIn(said, answer.content.decode())
        self.assertEqual(storage.meaning(DatabaseError("?"))[0], 503)

    def test_a_fault_of_ours_is_a_problem_too(self) -> None:
        with patch("api.designs.evaluate", side_effect=ZeroDivisionError):
            body = {"document": start("coil").model_dump(mode="json")}
            answer = self.client.post("/api/answer", data=json.dumps(body), content_type="application/json")
        self.assertEqual(answer.status_code, 500)
        self.assertEqual(answer.headers["Content-Type"], "application/problem+json")

    def test_a_port_is_a_port(self) -> None:
        self.assertEqual(port_of("8000"), 8000)
        for text in ("", "0", "65536", "-1", "eight", "8e3", "8" * 400, "８０００"):
            with self.assertRaisesRegex(SystemExit, "is no port"):
                port_of(text)

    def test_the_door_is_the_same_for_files(self) -> None:
        for path in ("/static/index.html", "/static/none.js", "/robots.txt", "/", "/api/shelf"):
            refused = self.client.get(path, headers={"host": "evil.example"})
            self.assertEqual(refused.status_code, 400, path)
            answer = self.client.get(path)
            self.assertEqual(answer.headers["X-Frame-Options"], "DENY", path)
            self.assertIn("default-src 'self'", answer.headers["Content-Security-Policy"])
            self.assertNotIn("Access-Control-Allow-Origin", answer.headers)
