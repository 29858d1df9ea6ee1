"""The database file: looked at before it is used, copied daily and before its form changes, and never
overwritten.

Copies lie in var/backups, the newest `KEPT` of them. A file that is found broken is set aside beside them.
"""

from __future__ import annotations

import sqlite3
from contextlib import closing
from datetime import UTC, datetime
from pathlib import Path

from django.conf import settings

KEPT = 21
SIDE_FILES = ("", "-wal", "-shm")  # a database in use is these three


class Unusable(Exception):
    """The database cannot be used as it is; says why, what became of it, and what to do."""


def file() -> Path:
    """The database file."""
    return Path(str(settings.DATABASES["default"]["NAME"]))


def _folder() -> Path:
    folder = file().parent / "backups"
    folder.mkdir(parents=True, exist_ok=True, mode=0o700)
    return folder


def _now() -> str:
    return datetime.now(UTC).strftime("%Y-%m-%d-%H%M%S-%f")


def copies() -> list[Path]:
    """Every copy, the newest first."""
    return sorted(_folder().glob("*.sqlite3"), key=lambda p: p.name, reverse=True)


def sound(path: Path) -> bool:
    """Whether a file is a database that reads through from end to end; one of no length was cut off."""
    if path.stat().st_size == 0:
        return False
    try:
        with closing(sqlite3.connect(f"file:{path}?mode=ro", uri=True, timeout=20)) as db:
            return bool(db.execute("PRAGMA quick_check").fetchone()[0] == "ok")
    except sqlite3.DatabaseError as error:
        return isinstance(error, sqlite3.OperationalError) and "malformed" not in str(error)


def copy(why: str) -> Path | None:
    """Copy the database while it is in use; None where there is none yet."""
    if not file().exists():
        return None
    target = _folder() / f"{_now()}-{why}.sqlite3"
    part = target.with_suffix(".part")
    with closing(sqlite3.connect(file(), timeout=20)) as db, closing(sqlite3.connect(part)) as to:
        db.backup(to)
    part.rename(target)
    for old in copies()[KEPT:]:
        old.unlink(missing_ok=True)
    return target


def copy_daily() -> None:
    """Copy it unless there is a copy of today."""
    today = datetime.now(UTC).strftime("%Y-%m-%d")
    if not any(p.name.startswith(today) and p.stem.endswith("daily") for p in copies()):
        copy("daily")


def set_aside(why: str) -> Path | None:
    """Move the database out of the way, with what belongs to it; nothing is overwritten."""
    if not file().exists():
        return None
    name = f"{file().stem}.{why}-{_now()}"
    for side in SIDE_FILES:
        part = Path(f"{file()}{side}")
        if part.exists():
            part.rename(file().with_name(f"{name}.sqlite3{side}"))
    return file().with_name(f"{name}.sqlite3")


def restore(name: str | None = None) -> tuple[Path, Path | None]:
    """Bring a copy back, the newest sound one unless another is named; the copy, and where the database in
    force went.

    Raises: Unusable.
    """
    known = copies()
    wanted = [p for p in known if name in (None, p.name, p.stem)]
    found = next((p for p in wanted if sound(p)), None)
    if found is None:
        names = ", ".join(p.stem for p in known) or "none"
        raise Unusable(f"There is no sound copy {name or ''}. Copies: {names}. Nothing was changed.")
    aside = set_aside("replaced")
    with closing(sqlite3.connect(found)) as db, closing(sqlite3.connect(file())) as to:
        db.backup(to)
    return found, aside
