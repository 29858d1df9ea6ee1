"""The attacks, one after the other, and their figures."""

from __future__ import annotations

import argparse
import json
import random
import sys
import tempfile
import threading
import time
from collections import Counter
from http.client import HTTPException
from typing import Any

from .corpus import Shot, shots
from .figures import Figures
from .fuzz import asked_by_schema
from .storage import full_disk, held, interrupted, read_only
from .target import ROOT, Client, Target

PATIENCE = 20.0  # how long an answer to a bad input is waited for [s]
FULL_SHELF = 0.5  # what the shelf may take with 500 designs [s]
MOST_TOLD = 60
PROMPT = 0.3  # what a small request may take while long work is under way [s]


def good_requests(client: Client) -> dict[str, tuple[str, str, Any]]:
    """A good request to every endpoint that takes a body."""
    row = client.get("/api/shelf")["designs"][0]
    opened = client.get(f"/api/designs/{row['id']}")
    document, at = opened["document"], f"/api/designs/{row['id']}"
    card = client.get("/api/cards/nmos-55v-5a-logic")["card"]
    script = {
        "title": "Tried",
        "stop": 0.05,
        "events": [
            {"do": "set", "at": 0.01, "level": "high"},
            {"do": "supply", "at": 0.02, "volts": 11.0, "ramp": 0.001},
            {"do": "sweep", "at": 0.03, "volts": 3.0, "over": 0.01},
        ],
    }
    change = {"path": "blocks.b2.r_gate", "value": 330}
    kept = [change, {"path": "script", "value": script}]
    return {
        "/api/designs": ("POST", "/api/designs", {"start": "coil", "document": document}),
        "/api/answer": ("POST", "/api/answer", {"document": document, "script": script, "changes": [change]}),
        "/api/designs save": ("PUT", at, {"document": document, "stamp": 0, "label": "x"}),
        "/api/designs change": ("POST", f"{at}/change", {"changes": kept, "stamp": 0, "label": "x"}),
        "/api/import": ("POST", "/api/import", {"name": "f.json", "text": json.dumps(document)}),
        "/api/outcomes": ("POST", "/api/outcomes", {"document": document, "choices": [change]}),
        "/api/offers": ("POST", "/api/offers", {"document": document, "block": "b2"}),
        "/api/places": ("POST", "/api/places", {"document": document, "block": "b4"}),
        "/api/windows": ("POST", "/api/windows", {"document": document, "block": "b2"}),
        "/api/mends": ("POST", "/api/mends", {"document": document, "verdict": "b2.fully_on"}),
        "/api/shortlist": ("POST", "/api/shortlist", {"document": document, "path": "blocks.b2.card"}),
        "/api/waves": ("POST", "/api/waves", {"document": document, "script": script}),
        "/api/steps": ("POST", f"{at}/steps", {"step": "place-b2.series", "done": True}),
        "/api/supply": ("PUT", f"{at}/supply", {"text": "12.6"}),
        "/api/readings": ("POST", f"{at}/readings", {"rung": "b1.pin.active", "text": "3.3"}),
        "/api/cards": ("PUT", "/api/cards/mine", {"card": {**card, "id": "mine"}, "stock": 1}),
        "/api/cards stock": ("POST", "/api/cards/npn-60v-1a/stock", {"stock": 3}),
        "/api/drawer/rows": ("POST", "/api/drawer/rows", {"name": "f", "rows": [{"card": card, "stock": 1}]}),
        "/api/drawer/read": ("POST", "/api/drawer/read", {"name": "f.csv", "text": "id,kind\na,npn"}),
        "/api/jobs/spread": ("POST", "/api/jobs/spread", {"document": document, "wish": {"count": 2}}),
    }


def bad_inputs(target: Target, figures: Figures, every: int) -> None:
    """Every good request spoilt in every way; the shelf still answers with every design."""
    client = Client(target.port, PATIENCE)
    before = {d["id"] for d in client.get("/api/shelf")["designs"]}
    all_of = list(shots(good_requests(client), every))

    def shoot(shot: Shot) -> None:
        about = f"{shot.path.split('/', 3)[-1]}" if not shot.about.startswith("/api") else shot.about
        try:
            figures.note("bad inputs", about, client.send(shot.method, shot.path, shot.body, shot.kind))
        except OSError as error:
            figures.wrong.append(f"{shot.about}: no answer: {error}")

    for shot in all_of:
        shoot(shot)
    _all_there(client, before, figures)


def schema_fuzz(target: Target, figures: Figures, count: int) -> None:
    """Random requests as the published schema has them: every answer is one that it tells of."""
    client, schema = Client(target.port), json.loads((ROOT / "server" / "openapi.json").read_text("utf-8"))
    rows = [d["id"] for d in client.get("/api/shelf")["designs"]]
    for method, path, template, body in asked_by_schema(schema, random.Random(2026), count, rows):
        answer = client.send(method, path, body)
        figures.note("schema", f"schema {method} {template}", answer)
        told = schema["paths"][template][method.lower()]["responses"]
        kinds = told.get(str(answer.status), {}).get("content", {"": {}})
        if str(answer.status) not in told:
            figures.wrong.append(f"schema {method} {template}: {answer.status} is not told of")
        elif "" not in kinds and answer.kind.partition(";")[0] not in kinds:
            figures.wrong.append(f"schema {method} {template}: {answer.status} as {answer.kind}")


def _all_there(client: Client, before: set[str], figures: Figures) -> None:
    answer = client.send("GET", "/api/shelf")
    figures.note("bad inputs", "/api/shelf after", answer)
    if answer.status == 200 and not before <= {d["id"] for d in answer.json()["designs"]}:
        figures.wrong.append("designs are gone from the shelf")
    figures.note("bad inputs", "/api/drawer after", client.send("GET", "/api/drawer"))


def many_designs(target: Target, figures: Figures, count: int) -> None:
    """A full shelf, none of its rows worked out yet: the list comes at once all the same."""
    client = Client(target.port)
    for _ in range(count):
        figures.note("many designs", "/api/designs", client.post("/api/designs", {"start": "coil"}))
    answer = client.send("GET", "/api/shelf")
    figures.note("many designs", "/api/shelf", answer)
    rows = answer.json()["designs"]
    told = f"{len(rows)} designs, {sum(r['pending'] for r in rows)} of them not worked out yet"
    figures.numbers[f"the shelf with {told}"] = f"{1000 * answer.seconds:.0f} ms"
    if figures.timed and answer.seconds > FULL_SHELF:
        figures.wrong.append(f"the shelf took {answer.seconds:.2f} s")


def kills(target: Target, figures: Figures, times: int) -> None:
    """Killed in the middle of edits: what was answered is there afterwards, and the file is sound."""
    lost = 0
    for k in range(times):
        client = Client(target.port)
        made = client.post("/api/designs", {"start": "coil"}).json()
        kept = [made["stamp"], 220.0]
        stop = threading.Event()

        def edit(client: Client, made: Any, kept: list[Any], stop: threading.Event) -> None:
            value = 220.0
            while not stop.is_set():
                value = value % 900 + 10
                body = {
                    "changes": [{"path": "blocks.b2.r_gate", "value": value}],
                    "stamp": kept[0],
                    "label": "",
                }
                try:
                    answer = client.post(f"/api/designs/{made['id']}/change", body)
                except (OSError, HTTPException):
                    return
                if answer.status == 200:
                    kept[:] = [answer.json()["stamp"], value]

        editor = threading.Thread(target=edit, args=(client, made, kept, stop))
        editor.start()
        time.sleep(0.3 + 0.05 * k)
        target.kill()
        stop.set()
        editor.join()
        target.start()
        found = Client(target.port).get(f"/api/designs/{made['id']}")
        ahead = found["stamp"] - kept[0]
        if ahead not in (0, 1) or (ahead == 0 and found["document"]["blocks"]["b2"]["r_gate"] != kept[1]):
            lost += 1
            figures.wrong.append(f"kill {k}: stamp {found['stamp']}, answered {kept}")
        figures.tried["kills"] += 1
    figures.numbers["edits lost in kills"] = str(lost)


def one_design(target: Target, figures: Figures, rounds: int) -> None:
    """Eight clients change one design: each stamp is taken once, and every change that was taken is there."""
    client = Client(target.port)
    made = client.post("/api/designs", {"start": "coil"}).json()
    taken: list[int] = []
    lock = threading.Lock()

    def work(k: int) -> None:
        own = Client(target.port)
        for n in range(rounds):
            stamp = own.get(f"/api/designs/{made['id']}")["stamp"]
            body = {"changes": [{"path": "notes", "value": f"{k} {n}"}], "stamp": stamp, "label": ""}
            answer = own.post(f"/api/designs/{made['id']}/change", body)
            with lock:
                figures.note("one design", "/api change", answer)
                if answer.status == 200:
                    taken.append(answer.json()["stamp"])
                elif answer.status != 409:
                    figures.wrong.append(f"one design: {answer.status}")

    crowd = [threading.Thread(target=work, args=(k,)) for k in range(8)]
    for t in crowd:
        t.start()
    for t in crowd:
        t.join()
    last = client.get(f"/api/designs/{made['id']}")["stamp"]
    if len(taken) != len(set(taken)) or last != made["stamp"] + len(taken):
        figures.wrong.append(f"one design: {len(taken)} taken, stamp {last} from {made['stamp']}")


def long_jobs(target: Target, figures: Figures, seconds: float) -> None:
    """A crowd asks for long work while somebody goes on working."""
    client = Client(target.port)
    document = client.get(f"/api/designs/{client.get('/api/shelf')['designs'][0]['id']}")["document"]
    client.post("/api/answer", {"document": document})  # the first one reads the compiled kernel in
    while any(d["pending"] for d in client.get("/api/shelf")["designs"]):
        time.sleep(0.5)
    stop, refused, most = threading.Event(), Counter[int](), 0

    def ask(k: int) -> None:
        own, n = Client(target.port), 0
        while not stop.is_set():
            wish = {"kind": "parts", "count": 400, "seed": 1000 * k + n}
            answer = own.post("/api/jobs/spread", {"document": document, "wish": wish})
            refused[answer.status] += 1
            n += 1
            time.sleep(0.2)

    crowd = [threading.Thread(target=ask, args=(k,)) for k in range(8)]
    for t in crowd:
        t.start()
    times: list[float] = []
    end = time.perf_counter() + seconds
    while time.perf_counter() < end:
        for path in ("/static/index.html", "/api/shelf", "/robots.txt"):
            times.append(client.send("GET", path).seconds)
        times.append(client.post("/api/answer", {"document": document}).seconds)
        most = max(most, target.memory())
        time.sleep(0.1)
    stop.set()
    for t in crowd:
        t.join()
    times.sort()
    median, late = times[len(times) // 2], times[int(0.95 * len(times))]
    figures.tried["long jobs"] += sum(refused.values())
    figures.numbers["small requests beside long work, median"] = f"{1000 * median:.0f} ms"
    figures.numbers["small requests beside long work, 95 of 100 within"] = f"{1000 * late:.0f} ms"
    figures.numbers["most memory"] = f"{most / 1e6:.0f} MB"
    figures.numbers["long jobs taken, refused as too many"] = f"{refused[200]}, {refused[503]}"
    if figures.timed and late > PROMPT:
        figures.wrong.append(f"long jobs: a small request takes {late:.2f} s")
    if set(refused) - {200, 503}:
        figures.wrong.append(f"long jobs: answers {dict(refused)}")


def main() -> None:
    """Run everything, or a short form of it; the exit code says whether all was well."""
    parser = argparse.ArgumentParser(description=__doc__)
    parser.add_argument("--short", action="store_true", help="a tenth of it")
    short = parser.parse_args().short
    figures, begin = Figures(timed=not short), time.perf_counter()
    with tempfile.TemporaryDirectory() as folder:
        target = Target(folder)
        target.start()
        try:
            long_jobs(target, figures, 3.0 if short else 15.0)
            bad_inputs(target, figures, every=40 if short else 3)
            schema_fuzz(target, figures, 60 if short else 600)
            one_design(target, figures, 2 if short else 10)
            many_designs(target, figures, 12 if short else 480)
            kills(target, figures, 1 if short else 10)
        finally:
            target.kill()
    with tempfile.TemporaryDirectory() as folder:
        full_disk(folder, figures)
    if not short:
        for trial in (read_only, held, interrupted):
            with tempfile.TemporaryDirectory() as folder:
                trial(folder, figures)
    for name, count in figures.tried.items():
        print(f"{name}: {count} tried")
    refused = sum(n for status, n in figures.statuses.items() if 400 <= status < 500)
    faults = sum(n for status, n in figures.statuses.items() if status >= 500)
    print(f"refused well: {refused}; answered 5xx: {faults}; not as it should be: {len(figures.wrong)}")
    print(f"slowest answer: {figures.slowest[0]:.2f} s, {figures.slowest[1]}")
    for name, number in figures.numbers.items():
        print(f"{name}: {number}")
    print(f"all of it: {time.perf_counter() - begin:.0f} s")
    for line in figures.wrong[:MOST_TOLD]:
        print(f"  {line}")
    sys.exit(1 if figures.wrong else 0)


if __name__ == "__main__":
    main()
