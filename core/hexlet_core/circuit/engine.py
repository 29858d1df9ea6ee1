"""The compiled kernel. The only module that imports numba; load it when a circuit is first solved.

Compiled code is kept on disk in a folder named by a hash of every kernel source, because numba's own cache
does not notice a change in a function that another file calls. Compiled functions release the interpreter's
lock, so that a batch uses every core.
"""

from __future__ import annotations

import os
from functools import cache
from pathlib import Path
from threading import Lock
from typing import Any, NamedTuple

from ..sources import digest
from . import devices, lu, newton, rows, sparse, transient


class Engine(NamedTuple):
    """The kernel's entry points, compiled or plain."""

    settle: Any
    slopes: Any
    march: Any
    device_flows: Any


PLAIN = Engine(newton.settle, newton.slopes, transient.march, rows.device_flows)
FEW, ENOUGH = 60, 6000  # devices of a small circuit; devices solved uncompiled before the kernel is loaded
_lock = Lock()
_spent = {"plain": 0}
ALLOCATING = (newton.settle, rows.device_flows)
SMALL = (newton.assemble, newton.divide, newton.refactor, rows.record)  # bundles are dear to pass


def _cache_folder() -> Path:
    root = Path(os.environ.get("HEXLET_CACHE") or Path.home() / ".cache" / "hexlet")
    return root / f"kernel-{digest('circuit')}"


def compiled() -> Engine:
    """The kernel as machine code; the first call ever compiles it, later processes load it in
    some seconds.
    """
    with _lock:
        return _compiled()


def for_points(devices: int) -> Engine:
    """The kernel for an operating point: machine code if it is loaded or worth loading, else its uncompiled
    twin.

    While another thread loads it nobody waits.
    """
    loading = _lock.locked()
    if not loading and (_compiled.cache_info().currsize or devices > FEW or _spent["plain"] > ENOUGH):
        return compiled()
    _spent["plain"] += devices
    return PLAIN


@cache
def _compiled() -> Engine:
    import numba

    # Not by the environment, which numba reads when it is imported: somebody else may have done that already.
    setattr(numba.config, "CACHE_DIR", os.environ.get("NUMBA_CACHE_DIR") or str(_cache_folder()))  # noqa: B010  it has no such name for a checker
    from numba.extending import overload

    options: Any = {"error_model": "numpy", "no_cpython_wrapper": True, "no_cfunc_wrapper": True}
    for function in (
        lu.factor,
        lu.solve,
        *sparse.PLAIN,
        *devices.PLAIN,
        *newton.PLAIN,
        *rows.PLAIN,
        *transient.PLAIN,
    ):
        own = options if function in ALLOCATING else options | {"_nrt": False}
        if (
            function.__name__.startswith("load")
            or function.__module__ == sparse.__name__
            or function in SMALL
        ):
            own = own | {"forceinline": True}
        overload(function, jit_options=own, strict=False)(lambda *args, function=function: function)
    return Engine(*(numba.njit(cache=True, nogil=True, error_model="numpy")(function) for function in PLAIN))
