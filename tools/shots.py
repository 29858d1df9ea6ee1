"""The pictures in docs/screenshots, taken from the demo data in a database of their own."""

from __future__ import annotations

import json
import os
import re
import subprocess
import sys
import tempfile
import time
import urllib.request
from pathlib import Path
from typing import Literal

from playwright.sync_api import ViewportSize, sync_playwright

ROOT = Path(__file__).resolve().parent.parent
OUT = ROOT / "docs" / "screenshots"
PORT = "8765"
FAN = "/design/{Roof-vent fan relay}/"
VIEWS: list[tuple[str, str, tuple[int, int], Literal["light", "dark"]]] = [
    ("shelf", "/", (1280, 800), "light"),
    ("load", FAN + "load", (1280, 800), "light"),
    ("drive", FAN + "drive", (1280, 800), "light"),
    ("window", FAN + "drive?part=blocks.b2.r_gate", (1280, 800), "light"),
    ("guard", FAN + "guard", (1280, 800), "light"),
    ("behave", FAN + "behave", (1280, 800), "light"),
    ("build", FAN + "build", (1280, 800), "light"),
    ("prove", FAN + "prove", (1280, 800), "light"),
    ("drive-dark", FAN + "drive", (1280, 800), "dark"),
    ("drawer", "/drawer?card=nmos-55v-5a-logic", (1280, 800), "light"),
    ("shortlist", "/design/{Beacon relay}/drive?part=blocks.b2.card", (1280, 800), "light"),
    ("ac", "/design/{Path lamp}/drive", (1280, 800), "light"),
    ("selector", "/design/{Flat-panel selector}/behave", (1280, 800), "light"),
    ("oneshot", "/design/{Red map light}/behave", (1280, 800), "light"),
    ("flow", "/design/{Bench light}/behave?block=b2", (1280, 800), "light"),
    ("rehearse", FAN + "behave", (1280, 800), "light"),
    ("phone-build", FAN + "build", (390, 844), "light"),
    ("phone-prove", FAN + "prove", (390, 844), "light"),
    ("window-empty", FAN + "drive", (1280, 800), "light"),  # last: it changes the drive
]


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with tempfile.TemporaryDirectory() as folder:
        env = {**os.environ, "HEXLET_VAR": folder, "PORT": PORT}
        for command in (["migrate", "-v0"], ["load_demo", "-v0"]):
            subprocess.run([sys.executable, "server/manage.py", *command], cwd=ROOT, env=env, check=True)
        server = subprocess.Popen(
            [sys.executable, "-m", "config.serve"], cwd=ROOT / "server", env=env, stdout=subprocess.DEVNULL
        )
        try:
            take(f"http://127.0.0.1:{PORT}")
        finally:
            server.terminate()
            server.wait()


def take(base: str) -> None:
    for _ in range(100):
        try:
            urllib.request.urlopen(base + "/robots.txt")
            break
        except OSError:
            time.sleep(0.2)
    designs = json.load(urllib.request.urlopen(base + "/api/shelf"))["designs"]
    ids = {d["name"]: d["id"] for d in designs}
    with sync_playwright() as driver:
        browser = driver.chromium.launch(
            executable_path="/usr/bin/chromium",
            args=["--headless", "--no-sandbox", "--disable-gpu", "--disable-quic"],
        )
        for name, path, (width, height), mode in VIEWS:
            size: ViewportSize = {"width": width, "height": height}
            page = browser.new_context(viewport=size, color_scheme=mode).new_page()
            page.goto(base + re.sub(r"\{(.*?)\}", lambda m: ids[m[1]], path))
            page.wait_for_selector("header.top")
            page.wait_for_load_state("networkidle")
            page.wait_for_timeout(1200)
            if name == "window":
                page.get_by_role("slider").focus()
                for _ in range(5):
                    page.keyboard.press("ArrowLeft")
                page.wait_for_timeout(600)
            if name == "rehearse":
                page.keyboard.press("e")
                page.get_by_role("button", name="All corners").click()
                page.wait_for_selector("text=32 runs")
                page.wait_for_timeout(600)
            if name == "window-empty":
                page.get_by_label("Compare with").select_option("npn_low_side")
                page.get_by_role("button", name="Use it").click()
                page.wait_for_selector("text=Bipolar, 220")
                page.wait_for_timeout(900)
                page.get_by_role("button", name="R1 220").click()
                page.wait_for_selector("text=No value fits")
                page.wait_for_timeout(500)
            page.screenshot(path=OUT / f"{name}.png")
            page.context.close()
        browser.close()


if __name__ == "__main__":
    main()
