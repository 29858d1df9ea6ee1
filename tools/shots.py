"""The pictures in docs/screenshots, taken from the demo data in a database of their own."""

from __future__ import annotations

import re
from pathlib import Path
from typing import Literal

from playwright.sync_api import ViewportSize

from tools.served import served

ROOT = Path(__file__).resolve().parent.parent
OUT = ROOT / "docs" / "screenshots"
FAN = "/design/{Roof-vent fan relay}/"
VIEWS: list[tuple[str, str, tuple[int, int], Literal["light", "dark"]]] = [
    ("shelf", "/", (1280, 800), "light"),
    ("load", FAN + "load", (1280, 800), "light"),
    ("drive", FAN + "drive", (1280, 800), "light"),
    ("window", FAN + "drive?part=blocks.b2.r_gate", (1280, 800), "light"),
    ("guard", FAN + "guard", (1280, 800), "light"),
    ("behave", "/design/{Dew-heater dimmer}/behave", (1280, 800), "light"),
    ("build", FAN + "build", (1280, 800), "light"),
    ("prove", FAN + "prove", (1280, 800), "light"),
    ("drive-dark", FAN + "drive", (1280, 800), "dark"),
    ("drawer", "/drawer?card=nmos-55v-5a-logic", (1280, 800), "light"),
    ("ac", "/design/{Path lamp}/drive", (1280, 800), "light"),
    ("selector", "/design/{Flat-panel selector}/load", (1280, 800), "light"),
    ("mends", "/design/{Roof hatch relay}/guard", (1280, 800), "light"),
    ("oneshot", "/design/{Red map light}/behave", (1280, 800), "light"),
    ("flow", "/design/{Bench light}/behave?block=b2", (1280, 800), "light"),
    ("rehearse", FAN + "behave", (1280, 800), "light"),
    ("phone-build", FAN + "build", (390, 844), "light"),
    ("phone-prove", FAN + "prove", (390, 844), "light"),
    ("window-empty", FAN + "drive", (1280, 800), "light"),  # last: it changes the drive
]


def main() -> None:
    OUT.mkdir(parents=True, exist_ok=True)
    with served() as (base, ids, browser):
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
            if name == "mends":
                page.locator("[data-verdict] button").first.click()
                page.get_by_role("button", name="What mends it").first.click()
                page.wait_for_selector(".mends li")
                page.wait_for_timeout(500)
            if name == "rehearse":
                page.keyboard.press("e")
                page.get_by_role("button", name="All corners").click()
                page.wait_for_selector("text=48 runs")
                page.wait_for_timeout(600)
            if name == "window-empty":
                page.get_by_role("button", name=re.compile("8 mA. Change it")).click()
                page.locator(".sentence input").fill("3 mA")
                page.keyboard.press("Enter")
                page.wait_for_timeout(900)
                page.get_by_label("Compare with").select_option("npn_low_side")
                page.get_by_role("button", name="Use it").click()
                page.wait_for_selector("text=Bipolar, ")
                page.wait_for_timeout(900)
                page.get_by_role("button", name="R1 220").click()
                page.wait_for_selector("text=No value fits")
                page.wait_for_timeout(500)
            page.screenshot(path=OUT / f"{name}.png")
            page.context.close()


if __name__ == "__main__":
    main()
