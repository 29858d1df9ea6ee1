"""Rehearsals over HTTP: spreads and press maps as jobs, waves as CSV, scripts read or refused."""

import json
from typing import Any

from api.executor import executor

from .test_api import Shed


class Rehearsals(Shed):
    """Spreads, waves and scripts over HTTP."""

    def body(self, **more: Any) -> dict[str, Any]:
        return {"document": self.get(self.at)["document"], **more}

    def run_out(self, kind: str, body: dict[str, Any]) -> dict[str, Any]:
        job: dict[str, Any] = self.send("post", f"/api/jobs/{kind}", body)
        self.assertTrue(executor.settle(60))
        found: dict[str, Any] = self.get(f"/api/jobs/{job['id']}")
        return found

    def test_a_spread_is_a_job_that_ends_with_its_fan(self) -> None:
        found = self.run_out("spread", self.body(wish={"kind": "parts", "count": 5, "seed": 3}))
        self.assertEqual((found["state"], found["fan"]["done"]), ("done", 5))
        self.assertEqual(found["fan"]["fan"]["runs"], 5)

    def test_the_same_question_is_one_job(self) -> None:
        body = self.body(wish={"kind": "parts", "count": 6, "seed": 4})
        first, second = (self.send("post", "/api/jobs/spread", body) for _ in range(2))
        self.assertEqual(first["id"], second["id"])
        self.assertTrue(executor.settle(60))
        other = self.send("post", "/api/jobs/spread", self.body(wish={"kind": "parts", "count": 7}))
        self.assertNotEqual(first["id"], other["id"])

    def test_a_press_map_comes_whole(self) -> None:
        found = self.run_out("press-map", {"document": self.document("Bench light")})
        self.assertEqual(found["state"], "done")
        self.assertIsNotNone(found["map"])

    def document(self, name: str) -> dict[str, Any]:
        """A demo design's document."""
        id = next(d["id"] for d in self.get("/api/shelf")["designs"] if d["name"] == name)
        found: dict[str, Any] = self.get(f"/api/designs/{id}")["document"]
        return found

    def test_every_order_of_an_interlock_is_run(self) -> None:
        found = self.run_out("orders", {"document": self.document("Flat-panel selector")})
        answer = found["orders"]["orders"]
        self.assertEqual((answer["channels"], answer["runs"]), (3, 48))
        self.assertTrue(all(order["meant"] for order in answer["orders"]))
        self.assertEqual(self.run_out("orders", self.body())["state"], "failed")

    def test_readings_of_a_level_say_where_to_turn(self) -> None:
        body = {"document": self.document("Battery guard"), "readings": [11.3, 11.32, 11.31]}
        told = self.client.post("/api/calibrate", body, content_type="application/json").json()
        self.assertAlmostEqual(told["mean"], 11.31)
        self.assertLess(told["turn"], 38.0)
        wrong = body | {"readings": [-1.0]}
        self.assertEqual(
            self.client.post("/api/calibrate", wrong, content_type="application/json").status_code, 422
        )
        other = {"document": self.document("Bench light"), "readings": []}
        self.assertEqual(
            self.client.post("/api/calibrate", other, content_type="application/json").status_code, 422
        )

    def test_how_surely_a_state_is_kept_is_a_job_too(self) -> None:
        found = self.run_out("holding", {"document": self.document("Bench light")})
        held = found["holding"]["holding"]
        self.assertEqual((found["state"], held["passed"]), ("done", held["builds"]))
        self.assertEqual(self.run_out("holding", self.body())["state"], "failed")

    def test_what_becomes_of_a_time_is_a_job_too(self) -> None:
        found = self.run_out("otherwise", {"document": self.document("Red map light")})
        told = found["otherwise"]["otherwise"]
        self.assertEqual((found["state"], len(told["courses"]), len(told["dips"])), ("done", 8, 16))
        answer = self.send(
            "post",
            "/api/answer",
            {"document": self.document("Red map light"), "script": told["courses"][1]["script"]},
        )
        self.assertEqual(answer["rehearsal"]["script"]["title"], "Held on")
        self.assertEqual(self.run_out("otherwise", self.body())["state"], "failed")

    def test_what_a_time_hangs_on_is_a_job_too(self) -> None:
        found = self.run_out("hangs", {"document": self.document("Red map light")})
        self.assertEqual((found["state"], found["hangs"]["hangs"]["levers"][0]["part"]), ("done", "C1"))
        self.assertEqual(self.run_out("hangs", self.body())["state"], "failed")

    def test_what_cannot_be_spread_is_refused_before_it_waits(self) -> None:
        script = {"events": [{"do": "lift", "part": "R99", "at": 0}]}
        refused = self.send("post", "/api/jobs/spread", self.body(script=script), 422)
        self.assertIn("events[0].part", refused["problems"][0]["field"])
        self.send("post", "/api/jobs/spread", self.body(wish={"kind": "parts", "count": 1_000_000}), 422)
        self.assertEqual(self.client.get("/api/jobs/none").status_code, 404)

    def keep(self, events: list[dict[str, Any]], status: int = 200) -> dict[str, Any]:
        changes = [{"path": "script", "value": {"title": "Own", "stop": "20m", "events": events}}]
        body = {"changes": changes, "stamp": self.get(self.at)["stamp"]}
        found: dict[str, Any] = self.send("post", f"{self.at}/change", body, status)
        return found

    def test_a_script_is_kept_with_the_design_or_refused_at_its_field(self) -> None:
        kept = self.keep([{"do": "set", "at": "10m", "level": "high"}])
        self.assertEqual(kept["document"]["script"]["events"][0]["at"], 0.01)
        answer = self.send("post", "/api/answer", {"document": kept["document"]})
        self.assertEqual((answer["rehearsal"]["script"]["title"], answer["left_out"]), ("Own", []))
        refused = self.keep([{"do": "probe", "red": "gate", "at": 1, "until": "soon"}], 422)
        self.assertEqual(refused["problems"][0]["field"], "script.events[0].until")

    def test_what_a_kept_script_has_no_place_for_is_left_out_and_told(self) -> None:
        lifted: list[dict[str, Any]] = [{"do": "lift", "part": name, "at": 0.001} for name in ("R99", "R1")]
        answer = self.send("post", "/api/answer", {"document": self.keep(lifted)["document"]})
        self.assertEqual([e["part"] for e in answer["rehearsal"]["script"]["events"]], ["R1"])
        self.assertIn("R99", answer["left_out"][0])

    def test_waves_are_csv_of_the_script_asked_for(self) -> None:
        script = {"stop": 0.02, "events": [{"do": "set", "at": 0.01, "level": "high"}]}
        response = self.client.post(
            "/api/waves", data=json.dumps(self.body(script=script)), content_type="application/json"
        )
        rows = response.content.decode().splitlines()
        self.assertTrue(rows[0].startswith("time,"))
        self.assertAlmostEqual(float(rows[-1].split(",")[0]), 0.02)
