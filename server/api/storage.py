"""What the database's own refusals mean, in words: what happened, that nothing saved is lost, what to do."""

from __future__ import annotations

KEPT = "Nothing that was saved is lost; this change was not kept."
DAMAGED = (
    503,
    "damaged",
    "The database is damaged",
    "Stop and start again with “make run”: it sets the file aside and brings the newest copy back.",
)
# What SQLite says, and what that means: status, id, title, and what to do.
MEANT: tuple[tuple[str, int, str, str, str], ...] = (
    ("full", 507, "disk-full", "The disk is full", "Make room on it, then do this again."),
    (
        "readonly",
        503,
        "read-only",
        "The database cannot be written",
        "Its folder or file is read-only: give yourself the right to write there, then do this again.",
    ),
    (
        "locked",
        503,
        "locked",
        "The database is busy",
        "Another program holds it. Close that, or wait a moment, then do this again.",
    ),
    (
        "unable to open",
        503,
        "not-opened",
        "The database cannot be opened",
        "Its folder is gone or closed to you. Start again with “make run”, which looks after it.",
    ),
    ("malformed", *DAMAGED),
    ("not a database", *DAMAGED),
    (
        "no such",
        503,
        "old-form",
        "The database is of an older form",
        "Stop and start again with “make run”, which brings it up to date and keeps a copy.",
    ),
    (
        "disk i/o",
        503,
        "disk-error",
        "The disk did not answer",
        "Look after the disk, then start again with “make run”; copies lie in var/backups.",
    ),
)
OTHERWISE = (503, "database", "The database did not take this", "Do it again; if it stays, start again.")


def meaning(error: Exception) -> tuple[int, str, str, str]:
    """Status, id, title and words for a refusal of the database."""
    said = str(error).lower()
    status, id, title, todo = next((found[1:] for found in MEANT if found[0] in said), OTHERWISE)
    return status, id, title, f"{title}. {KEPT} {todo}"
