"""Lines of code by room, and the share of tests. Blank lines do not count."""

from __future__ import annotations

import subprocess
from collections import Counter
from pathlib import Path

ROOT = Path(__file__).resolve().parent.parent
SKIP = ("schema.d.ts", "/migrations/", "package-lock", "openapi.json")


def room(path: str) -> str:
    parts = path.split("/")
    return "/".join(parts[:2]) if parts[0] == "tests" else parts[0]


def main() -> None:
    files = subprocess.run(
        ["git", "ls-files"], cwd=ROOT, capture_output=True, text=True, check=True
    ).stdout.split()
    counted: Counter[str] = Counter()
    for file in files:
        if not file.endswith((".py", ".ts", ".tsx", ".css")) or any(s in file for s in SKIP):
            continue
        counted[room(file)] += sum(
            bool(line.strip()) for line in (ROOT / file).read_text("utf-8").splitlines()
        )
    total = sum(counted.values())
    tests = sum(n for r, n in counted.items() if r.startswith("tests"))
    for name, lines in sorted(counted.items()):
        print(f"{name:16}{lines:7}")
    print(f"{'all':16}{total:7}\ntests are {tests / total:.0%} of the code")


if __name__ == "__main__":
    main()
