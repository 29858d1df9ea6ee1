"""The program served from the demo data in a database of its own, and a browser on it, for pictures and
timings.
"""

from __future__ import annotations

import json
import os
import subprocess
import sys
import tempfile
import time
import urllib.request
from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path
from typing import Any

from playwright.sync_api import Browser, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
PORT = "8765"
CHROMIUM = ("--headless", "--no-sandbox", "--disable-gpu", "--disable-quic")


@contextmanager
def served() -> Iterator[tuple[str, dict[str, str], Browser]]:
    """The address, the designs' ids by name, and a browser."""
    with tempfile.TemporaryDirectory() as folder:
        env = {**os.environ, "HEXLET_VAR": folder, "PORT": PORT}
        for command in (["migrate", "-v0"], ["load_demo", "-v0"]):
            subprocess.run([sys.executable, "server/manage.py", *command], cwd=ROOT, env=env, check=True)
        server = subprocess.Popen(
            [sys.executable, "-m", "config.serve"], cwd=ROOT / "server", env=env, stdout=subprocess.DEVNULL
        )
        base = f"http://127.0.0.1:{PORT}"
        try:
            _wait(base)
            designs = _shelf(base)
            while any(d["pending"] for d in designs):
                time.sleep(0.5)
                designs = _shelf(base)
            with sync_playwright() as driver:
                browser = driver.chromium.launch(executable_path="/usr/bin/chromium", args=list(CHROMIUM))
                yield base, {d["name"]: d["id"] for d in designs}, browser
                browser.close()
        finally:
            server.terminate()
            server.wait()


def _shelf(base: str) -> list[dict[str, Any]]:
    found: list[dict[str, Any]] = json.load(urllib.request.urlopen(base + "/api/shelf"))["designs"]
    return found


def _wait(base: str) -> None:
    for _ in range(100):
        try:
            urllib.request.urlopen(base + "/robots.txt")
            return
        except OSError:
            time.sleep(0.2)
    raise TimeoutError("The server did not come up.")
