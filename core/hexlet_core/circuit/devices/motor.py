"""DC motor: armature resistance and inductance, back-EMF, inertia, friction.

    v = R·i + L·di/dt + e,   C·de/dt = i − I_0·tanh(e/E_s) − i_load·tanh(e/E_s)

The back-EMF e stands for the speed (e = k·ω), and inertia appears as the capacitance C = J/k²: the spin-up
time constant is R·C. Constant friction and load torque appear as the currents that carry them; E_s is a
thousandth of the rated voltage. `locked` holds the shaft. Valid for brushed permanent-magnet motors; cogging
and brush noise are left out.
"""

from __future__ import annotations

import math
from typing import Annotated, Literal

from ...fields import Q
from .base import Device, Floats, Ints, Node, flow


class Motor(Device):
    """Terminals `a` and `b`; currents are those at the rated voltage."""

    code = 16
    terminals = ("a", "b")
    conducts = (("a", "b"),)

    device: Literal["motor"] = "motor"
    a: Node
    b: Node
    volts: Annotated[float, Q("V", 0.5, 500.0)]
    stall: Annotated[float, Q("A", 1e-3, 1e3)]
    running: Annotated[float, Q("A", 1e-4, 1e3)]
    inductance: Annotated[float, Q("H", 1e-7, 10.0)] = 1e-3
    spin_up: Annotated[float, Q("s", 1e-4, 100.0)] = 0.1
    locked: bool = False

    def branches(self) -> int:
        return 2

    def junctions(self) -> list[float]:
        return [0.0]  # the speed's voltage at the last iteration

    def numbers(self) -> list[float]:
        resistance = self.volts / self.stall
        return [
            resistance,
            self.inductance,
            self.running,
            1e-3 * self.volts,
            self.spin_up / resistance,
            float(self.locked),
        ]


def load(
    ia: Ints,
    p: int,
    fa: Floats,
    sa: Floats,
    lim: Floats,
    x: Floats,
    J: Floats,
    C: Floats,
    F: Floats,
    Q: Floats,
) -> int:
    f, a, b, k, m = ia[p + 1], ia[p + 4], ia[p + 5], ia[p + 6], ia[p + 7]
    r, l, i_run, e_s, c = fa[f], fa[f + 1], fa[f + 2], fa[f + 3], fa[f + 4]
    i, e = x[k], x[m]
    flow(F, a, b, i)
    J[a, k] += 1.0
    J[b, k] -= 1.0
    F[k] += x[a] - x[b] - r * i - e
    Q[k] -= l * i
    J[k, a] += 1.0
    J[k, b] -= 1.0
    J[k, k] -= r
    C[k, k] -= l
    J[k, m] -= 1.0
    if fa[f + 5] > 0.5:
        F[m] += e
        J[m, m] += 1.0
        return 0
    # Far out the drag is flat and Newton overshoots: where the speed changes sign, look at standstill first.
    last, at = lim[ia[p + 3]], e
    limited = 0
    if last * e < 0.0 and abs(e - last) > 6.0 * e_s:
        at, limited = 0.0, 1
    lim[ia[p + 3]] = at
    drag = math.tanh(at / e_s)
    slope = i_run * (1.0 - drag * drag) / e_s + 1e-9
    F[m] += i_run * drag + 1e-9 * at + slope * (e - at) - i
    Q[m] += c * e
    J[m, m] += slope
    C[m, m] += c
    J[m, k] -= 1.0
    return limited
