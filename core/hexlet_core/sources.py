"""A digest of the core's own sources: what was computed by other code is computed anew."""

from __future__ import annotations

import hashlib
from functools import cache
from pathlib import Path

HERE = Path(__file__).parent


@cache
def digest(folder: str = ".") -> str:
    """Sixteen hexadecimal digits for the sources in one folder of the core and below."""
    found = hashlib.sha256()
    for source in sorted((HERE / folder).rglob("*")):
        if source.suffix in (".py", ".json"):
            found.update(source.read_bytes())
    return found.hexdigest()[:16]
