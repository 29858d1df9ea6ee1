"""What disk and database can do to a server: full, not to be written, held, killed while it is made."""

from __future__ import annotations

import os
import sqlite3
import subprocess
import sys
import time
from collections import Counter
from collections.abc import Callable
from contextlib import closing
from pathlib import Path

from .figures import Figures
from .target import ROOT, Client, Target

KEPT = b"Nothing that was saved is lost"
WRITE_VERSION = (
    18  # the byte of a database's head that tells what may write it; a higher one: nothing known yet
)


def full_disk(folder: str, figures: Figures) -> None:
    """The disk gives out: said in words, nothing kept is lost, and it goes on when there is room."""
    target = Target(folder)
    target.start()
    client = Client(target.port)
    made = client.post("/api/designs", {"start": "coil"}).json()
    target.kill(15)
    size = os.path.getsize(os.path.join(folder, "hexlet.sqlite3"))
    target.start(limit=size + 8192)
    client = Client(target.port)
    said: Counter[int] = Counter()
    for _ in range(30):
        answer = client.post("/api/designs", {"start": "coil"})
        said[answer.status] += 1
        figures.tried["disk full"] += 1
        if answer.status >= 500 and b"Nothing that was saved is lost" not in answer.body:
            figures.wrong.append(f"disk full: {answer.status} {answer.body[:200]!r}")
    if not said[503] + said[507]:
        figures.wrong.append(f"disk full: nothing was refused: {dict(said)}")
    target.kill()
    target.start()
    if Client(target.port).get(f"/api/designs/{made['id']}")["id"] != made["id"]:
        figures.wrong.append("disk full: a design is lost")
    figures.numbers["with the disk full: kept, refused in words"] = f"{said[200]}, {said[503] + said[507]}"
    target.kill()


def _refused(figures: Figures, what: str, target: Target) -> None:
    """A change is refused in words, and what is there can be read."""
    client = Client(target.port, 60.0)
    shelf = client.send("GET", "/api/shelf")
    answer = client.post("/api/designs", {"start": "coil"})
    figures.tried[what] += 2
    if shelf.status != 200:
        figures.wrong.append(f"{what}: the shelf answers {shelf.status}")
    if answer.status != 503 or KEPT not in answer.body:
        figures.wrong.append(f"{what}: {answer.status} {answer.body[:200]!r}")


def _trial(folder: str, figures: Figures, what: str, spoil: Callable[[Path], Callable[[], None]]) -> None:
    """Served from a database that is spoilt and mended; a design made before is there all the time."""
    target = Target(folder)
    target.start()
    made = Client(target.port).post("/api/designs", {"start": "coil"}).json()
    target.kill(15)
    target.start()
    mend = spoil(Path(folder) / "hexlet.sqlite3")
    _refused(figures, what, target)
    mend()
    answer = Client(target.port).post("/api/designs", {"start": "coil"})
    if answer.status != 200 or Client(target.port).get(f"/api/designs/{made['id']}")["id"] != made["id"]:
        figures.wrong.append(f"{what}: does not go on afterwards: {answer.status}")
    target.kill()


def read_only(folder: str, figures: Figures) -> None:
    """The file may be read and not be written."""

    def spoil(file: Path) -> Callable[[], None]:
        was = file.read_bytes()[WRITE_VERSION]

        def write(version: int) -> None:
            with open(file, "r+b") as f:
                f.seek(WRITE_VERSION)
                f.write(bytes([version]))

        write(9)
        return lambda: write(was)

    _trial(folder, figures, "read-only", spoil)


def held(folder: str, figures: Figures) -> None:
    """Another program holds the database for longer than is waited."""

    def spoil(file: Path) -> Callable[[], None]:
        other = sqlite3.connect(file)
        other.execute("BEGIN IMMEDIATE")
        return other.close

    _trial(folder, figures, "held by another", spoil)


def interrupted(folder: str, figures: Figures) -> None:
    """Killed while it is set up, at one moment after the other: the next start makes it whole."""
    whole = -1
    for k in range(8):
        own = Path(folder) / str(k)
        own.mkdir()
        env = {**os.environ, "HEXLET_VAR": str(own)}
        making = subprocess.Popen(
            [sys.executable, "server/manage.py", "set_up"],
            cwd=ROOT,
            env=env,
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        time.sleep(0.4 + 0.25 * k)
        making.kill()
        making.wait()
        target = Target(str(own))
        target.start()
        designs = len(Client(target.port).get("/api/shelf")["designs"])
        whole = max(whole, designs)
        figures.tried["set-up killed"] += 1
        with closing(sqlite3.connect(own / "hexlet.sqlite3")) as db:
            if db.execute("PRAGMA integrity_check").fetchone()[0] != "ok" or designs != whole:
                figures.wrong.append(f"set-up killed: {designs} of {whole} designs")
        target.kill()
