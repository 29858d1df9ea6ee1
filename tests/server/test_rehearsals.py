"""Rehearsals over HTTP: spreads line by line, waves as CSV, scripts read or refused."""

import json
from typing import Any

from .test_api import Shed


class Rehearsals(Shed):
    """Spreads, waves and scripts over HTTP."""

    def body(self, **more: Any) -> dict[str, Any]:
        return {"document": self.get(self.at)["document"], **more}

    def lines(self, body: dict[str, Any]) -> list[dict[str, Any]]:
        response = self.client.post("/api/spread", data=json.dumps(body), content_type="application/json")
        self.assertEqual(response.status_code, 200)
        return [json.loads(line) for line in b"".join(response.streaming_content).decode().splitlines()]  # type: ignore[attr-defined]

    def test_a_spread_comes_line_by_line(self) -> None:
        found = self.lines(self.body(wish={"kind": "parts", "count": 5, "seed": 3}))
        self.assertEqual([s["done"] for s in found], [1, 2, 3, 4, 5])
        self.assertTrue(all(s["fan"] is None for s in found[:-1]))
        self.assertEqual(found[-1]["fan"]["runs"], 5)

    def test_what_cannot_be_spread_is_refused_before_the_first_line(self) -> None:
        script = {"events": [{"do": "lift", "part": "R99", "at": 0}]}
        refused = self.send("post", "/api/spread", self.body(script=script), 422)
        self.assertIn("events[0].part", refused["problems"][0]["field"])
        self.send("post", "/api/spread", self.body(wish={"kind": "parts", "count": 1_000_000}), 422)

    def test_a_script_is_read_or_refused_at_its_field(self) -> None:
        read = self.send(
            "post", "/api/script", {"script": {"events": [{"do": "set", "at": "10m", "level": "high"}]}}
        )
        self.assertEqual(read["events"][0]["at"], 0.01)
        refused = self.send(
            "post",
            "/api/script",
            {"script": {"events": [{"do": "probe", "red": "gate", "at": 1, "until": "soon"}]}},
            422,
        )
        self.assertEqual(refused["problems"][0]["field"], "events[0].until")

    def test_waves_are_csv_of_the_script_asked_for(self) -> None:
        script = {"stop": 0.02, "events": [{"do": "set", "at": 0.01, "level": "high"}]}
        response = self.client.post(
            "/api/waves", data=json.dumps(self.body(script=script)), content_type="application/json"
        )
        rows = response.content.decode().splitlines()
        self.assertTrue(rows[0].startswith("time,"))
        self.assertAlmostEqual(float(rows[-1].split(",")[0]), 0.02)
