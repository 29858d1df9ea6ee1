"""The compiled kernel. The only module that imports numba; load it when a circuit is first solved.

Compiled code is kept on disk in a folder named by a hash of every kernel source, because numba's own
cache does not notice a change in a function that another file calls.
"""

from __future__ import annotations

import hashlib
import os
from functools import cache
from pathlib import Path
from typing import Any, NamedTuple

from . import devices, kernel


class Engine(NamedTuple):
    """The entry points of `kernel`, compiled or plain."""

    operating_point: Any
    transient: Any
    device_flows: Any


PLAIN = Engine(kernel.operating_point, kernel.transient, kernel.device_flows)


def _cache_folder() -> Path:
    here = Path(__file__).parent
    digest = hashlib.sha256()
    for source in sorted([*here.glob("*.py"), *here.glob("devices/*.py")]):
        digest.update(source.read_bytes())
    root = Path(os.environ.get("HEXLET_CACHE") or Path.home() / ".cache" / "hexlet")
    return root / f"kernel-{digest.hexdigest()[:16]}"


@cache
def compiled() -> Engine:
    """The kernel as machine code; the first call ever compiles it, later processes load it."""
    os.environ.setdefault("NUMBA_CACHE_DIR", str(_cache_folder()))
    import numba
    from numba.extending import register_jitable

    for function in (*devices.PLAIN, *kernel.PLAIN):
        register_jitable(function)
    return Engine(*(numba.njit(cache=True)(function) for function in PLAIN))
