"""Board plans over the API: planned as a job, kept, moved, gone back on; what is bought, which boards."""

import time
from typing import Any

from notebook.models import KeptPlan
from workshop.models import Design

from .test_api import Shed


class Board(Shed):
    def bench(self) -> Any:
        return self.get(f"{self.at}/bench")

    def asked(self, **more: Any) -> dict[str, Any]:
        return {"document": self.get(self.at)["document"], "changes": [], "channel": 1} | more

    def test_a_plan_is_a_job(self) -> None:
        body = self.asked(kept=None, stays=[])
        body["document"]["name"] = "Nobody has this"
        job = self.send("post", "/api/jobs/plan", body)
        for _ in range(200):
            if job["state"] not in ("waiting", "running"):
                break
            time.sleep(0.1)
            job = self.get(f"/api/jobs/{job['id']}")
        self.assertEqual((job["state"], job["plan"]["view"]["findings"]), ("done", []))
        self.assertEqual(job["plan"]["links"], job["plan"]["bound"])
        self.send("post", "/api/jobs/plan", self.asked(kept={"format": "other"}, stays=[]), 422)

    def test_what_moves_is_not_done_any_more_and_comes_back_with_undo(self) -> None:
        """Oracle: the steps that the demo has done, before and after."""
        before = self.bench()
        self.assertIn("b2.series.place", before["done"])
        plan = before["board"]["plan"]
        moved = self.send("post", "/api/board/moved", self.asked(plan=plan, part="b2.series", along=10))
        self.assertTrue(moved["findings"])
        after = self.send("put", f"{self.at}/plan", {"plan": moved["plan"]})
        self.assertNotIn("b2.series.place", after["done"])
        step = next(s for s in after["steps"] if s["id"] == "b2.series.place")
        self.assertEqual(step["action"], "move")
        back = self.send("delete", f"{self.at}/plan/last")
        self.assertEqual((sorted(back["done"]), back["board"]["plan"]), (sorted(before["done"]), plan))
        self.assertIsNone(self.send("delete", f"{self.at}/plan")["board"])
        self.assertEqual(KeptPlan.objects.count(), 0)

    def test_what_cannot_be_is_named(self) -> None:
        plan = self.bench()["board"]["plan"]
        for more, field in (
            ({"part": "b9.none"}, "part"),
            ({"part": "b2.series", "along": -200}, "along"),
            ({"part": "b2.series", "leg": 40}, "leg"),
        ):
            found = self.send("post", "/api/board/moved", self.asked(plan=plan, **more), 422)
            self.assertEqual(found["problems"][0]["field"], field)
        broken = plan | {"placings": [plan["placings"][0] | {"shape": "round"}]}
        found = self.send("put", f"{self.at}/plan", {"plan": broken}, 422)
        self.assertIn("placings", found["problems"][0]["field"])
        self.assertEqual(self.bench()["board"]["plan"], plan)

    def test_files_of_a_plan(self) -> None:
        plan = self.bench()["board"]["plan"]
        self.assertEqual(self.get(f"{self.at}/export/plan"), plan)
        picture = self.client.get(f"{self.at}/export/board")
        self.assertEqual(picture["Content-Type"], "image/svg+xml; charset=utf-8")
        self.assertIn(b"mm", picture.content[:300])
        self.send("delete", f"{self.at}/plan")
        self.assertEqual(self.client.get(f"{self.at}/export/plan").status_code, 422)

    def test_volts_substitutes_mistakes_and_shopping(self) -> None:
        volts = self.send("post", "/api/board/volts", self.asked(at=0.0))["volts"]
        self.assertEqual((volts["0"], volts["s.plus"]), ("0 V", "12.6 V"))
        rows = self.send("post", "/api/board/substitutes", self.asked(block="b2", local="series"))["rows"]
        self.assertTrue(all(r["stock"] for r in rows))
        plan = self.bench()["board"]["plan"]
        found = self.send("post", "/api/board/mistakes", self.asked(plan=plan, key="b3.diode"))["rows"]
        self.assertEqual(found[0]["standing"], "fails")
        others = [str(d.id) for d in Design.objects.all()]
        both = self.send("post", "/api/shopping", {"designs": others})
        self.assertGreater(both["parts"], 100)
        text = self.client.get(f"/api/shopping.csv?design={others[0]}&design={others[1]}").content.decode()
        self.assertTrue(text.startswith("title,value,package,need,"))
        self.send("post", "/api/shopping", {"designs": []}, 422)

    def test_boards_are_owned(self) -> None:
        self.assertEqual([b["positions"] for b in self.bench()["boards"]], [30, 63])
        mine = {"boards": [{"positions": 30, "rails": "split"}]}
        self.assertEqual(self.send("put", "/api/boards", mine), mine)
        self.assertEqual(self.bench()["boards"], mine["boards"])
        self.send("put", "/api/boards", {"boards": [{"positions": 31, "rails": "whole"}]}, 422)
