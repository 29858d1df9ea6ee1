"""The drawer's API: files in and out, own cards, where used, undo, shortlists and mends."""

import json

from django.core.management import call_command
from django.test import TestCase
from drawer.models import Item
from workshop.models import Design


class Drawer(TestCase):
    def setUp(self) -> None:
        call_command("load_demo", verbosity=0)

    def post(self, path: str, body: object, method: str = "post"):  # type: ignore[no-untyped-def]
        return getattr(self.client, method)(
            f"/api/{path}", data=json.dumps(body), content_type="application/json"
        )

    def test_what_goes_out_comes_back_the_same(self) -> None:
        """Oracle: every row of the exported file, read again, is "same"."""
        for what in ("csv", "json"):
            text = self.client.get(f"/api/drawer/export/{what}").content.decode()
            rows = self.post("drawer/read", {"name": f"drawer.{what}", "text": text}).json()
            self.assertGreater(len(rows), 40)
            self.assertEqual({r["status"] for r in rows}, {"same"}, what)

    def test_each_row_says_what_is_wrong_with_it(self) -> None:
        text = (
            "kind,title,stock,forward.0.current,forward.0.voltage,current,surge,reverse\n"
            "diode,Good diode,4,1,0.9,1,20,100\n"
            "diode,No volts,4,1,,1,20,100\n"
            "diode,Half a part,1.5,1,0.9,1,20,100\n"
            "spanner,Not a part,1,,,,,\n"
            "diode,Good diode,1,1,0.9,1,20,100\n"
            "diode,=cmd,1,1,0.9,1,20,minus\n"
        )
        rows = self.post("drawer/read", {"name": "x.csv", "text": text}).json()
        self.assertEqual(
            [r["status"] for r in rows], ["new", "refused", "refused", "refused", "refused", "refused"]
        )
        self.assertEqual([r["number"] for r in rows], [2, 3, 4, 5, 6, 7])
        self.assertIn("forward", rows[1]["problems"][0]["field"])
        self.assertEqual(rows[2]["problems"][0]["field"], "stock")
        self.assertIn("already", rows[4]["note"])
        self.assertEqual(Item.objects.filter(card_id="good-diode").count(), 0)

    def test_what_is_no_such_file_is_refused_whole(self) -> None:
        for text in ("", "[1, 2]", "{", "name;volts\na;1\n"):
            self.assertEqual(self.post("drawer/read", {"name": "x", "text": text}).status_code, 422, text)

    def test_rows_are_kept_together_and_taken_back_together(self) -> None:
        text = (
            self.client.get("/api/drawer/export/csv")
            .content.decode()
            .replace("Rectifier 1 A 100 V,12", "Rectifier 1 A 100 V,99")
        )
        rows = [
            r
            for r in self.post("drawer/read", {"name": "x.csv", "text": text}).json()
            if r["status"] == "changed"
        ]
        self.assertEqual([r["title"] for r in rows], ["Rectifier 1 A 100 V"])
        kept = self.post(
            "drawer/rows", {"name": "x.csv", "rows": [{"card": r["card"], "stock": r["stock"]} for r in rows]}
        ).json()
        self.assertEqual(next(c["stock"] for c in kept["cards"] if c["id"] == "diode-1a-100v"), 99)
        self.assertIsNone(Item.objects.get(card_id="diode-1a-100v").card)
        back = self.post("drawer/undo", {}).json()
        self.assertEqual(next(c["stock"] for c in back["cards"] if c["id"] == "diode-1a-100v"), 12)

    def test_an_archetype_cannot_be_overwritten_and_a_used_card_cannot_go(self) -> None:
        card = self.client.get("/api/cards/npn-60v-1a").json()["card"]
        self.assertEqual(
            self.post("cards/npn-60v-1a", {"card": {**card, "gain_min": 50}}, "put").status_code, 422
        )
        self.assertEqual(self.post("cards/my-npn", {"card": card}, "put").status_code, 200)
        design = Design.objects.get(name="Beacon relay")
        document = design.revision.document
        document["blocks"]["b2"]["card"] = "my-npn"
        saved = self.client.put(
            f"/api/designs/{design.id}",
            data=json.dumps({"document": document, "stamp": design.stamp}),
            content_type="application/json",
        )
        self.assertEqual(saved.status_code, 200)
        used = next(c["used"] for c in self.client.get("/api/drawer").json()["cards"] if c["id"] == "my-npn")
        self.assertEqual(used, ["Beacon relay"])
        refused = self.client.delete("/api/cards/my-npn")
        self.assertEqual(refused.status_code, 422)
        self.assertIn("Beacon relay", refused.json()["problems"][0]["message"])
        self.assertEqual(self.client.delete("/api/cards/npn-60v-1a").status_code, 422)

    def test_a_contradiction_is_refused_at_its_card(self) -> None:
        card = self.client.get("/api/cards/nmos-55v-5a-logic").json()["card"]
        card["on"][0]["v_gs"] = 0.9
        found = self.post("cards/mine", {"card": card}, "put")
        self.assertEqual(found.status_code, 422)
        self.assertIn("where it begins", found.json()["problems"][0]["message"])

    def test_every_card_opens_with_its_fields(self) -> None:
        for row in self.client.get("/api/drawer").json()["cards"]:
            if row["kind"] == "resistor":
                continue
            found = self.client.get(f"/api/cards/{row['id']}").json()
            self.assertTrue(found["fields"], row["id"])
            self.assertTrue(all(b["within"] for b in found["back"]), row["id"])
        self.assertEqual(self.client.get("/api/cards/nothing").status_code, 422)

    def test_shortlist_and_mend(self) -> None:
        document = Design.objects.get(name="Roof-vent fan relay").revision.document
        rows = self.post("shortlist", {"document": document, "path": "blocks.b2.card"}).json()["rows"]
        self.assertTrue(rows[0]["in_use"])
        self.assertEqual(
            self.post("shortlist", {"document": document, "path": "blocks.b2.r_gate"}).status_code, 422
        )
        document["blocks"]["b2"]["r_pull"] = 1e5
        found = self.post("mends", {"document": document, "verdict": "b2.boot"}).json()
        self.assertTrue(found["mends"][0]["changes"])
        self.assertGreater(found["mends"][0]["stock"], 0)
        nothing = self.post("mends", {"document": document, "verdict": "nothing"}).json()
        self.assertEqual(nothing["mends"], [])
