"""Random circuits for a bounded time: an answer or an explained refusal, never a crash, a hang or not-a-
number.

Oracles: Kirchhoff's current law at every node of what was found; the seed makes each run the same.
"""

import unittest
from typing import Any

import numpy as np
from hexlet_core.circuit.devices import DEVICES, Device
from hexlet_core.circuit.netlist import GROUND, Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.errors import HexletError
from hexlet_core.formats.netlist import read_netlist

NODES = ["0", "a", "b", "c", "d"]


def random_device(rng: np.random.Generator, k: int) -> dict[str, Any]:
    """One device between random nodes with values from wide ranges."""

    def node() -> str:
        return str(rng.choice(NODES))

    def value(low: float, high: float) -> float:
        return float(10 ** rng.uniform(np.log10(low), np.log10(high)))

    two: dict[str, Any] = {"a": node(), "b": node()}
    values: dict[str, dict[str, Any]] = {
        "resistor": two | {"resistance": value(1.0, 1e6)},
        "capacitor": two
        | {
            "capacitance": value(1e-11, 1e-4),
            "esr": float(rng.choice([0.0, 0.3])),
            "initial": float(rng.uniform(-5, 5)),
        },
        "inductor": two | {"inductance": value(1e-5, 1.0), "resistance": value(0.1, 100.0)},
        "voltage": two | {"value": float(rng.uniform(-20, 20)), "resistance": value(0.01, 10.0)},
        "current": two | {"value": float(rng.uniform(-0.1, 0.1))},
        "switch": two | {"times": sorted(rng.uniform(0, 2e-3, 2).tolist())},
        "pin": {
            "out": node(),
            "steps": [
                {"time": 0, "level": 3.3, "resistance": 25.0},
                {"time": 1e-3, "level": 0, "resistance": 25.0},
            ],
            "current_limit": 0.04,
        },
        "diode": {
            "a": two["a"],
            "k": two["b"],
            "r_series": float(rng.choice([0.0, 0.5])),
            "breakdown": float(rng.choice([100.0, 5.1])),
        },
        "bipolar": {
            "c": node(),
            "b": node(),
            "e": node(),
            "polarity": str(rng.choice(["npn", "pnp"])),
            "r_b": float(rng.choice([0.0, 20.0])),
            "r_e": float(rng.choice([0.0, 0.2])),
            "i_k": float(rng.choice([0.1, 1e6])),
        },
        "mosfet": {"g": node(), "d": node(), "s": node(), "polarity": str(rng.choice(["n", "p"]))},
        "relay": two
        | {
            "resistance": value(10.0, 1e3),
            "inductance": value(1e-3, 1.0),
            "pull_in": 0.05,
            "drop_out": 0.01,
            "com": node(),
            "no": node(),
            "poles": [{"com": node(), "nc": node()}],
        },
        "button": {
            "com": two["a"],
            "no": two["b"],
            "nc": node(),
            "presses": [{"at": 5e-4, "hold": 1e-3}],
            "bounce": {"duration": 2e-4, "times": 2},
        },
        "potentiometer": two
        | {"w": node(), "resistance": value(100.0, 1e6), "turns": [(0.0, 0.1), (2e-3, 0.9)]},
        "transfer": two | {"c": node(), "d": node(), "gain": float(rng.uniform(-2, 2)), "lag": 1e-5},
        "lamp": two | {"volts": 12.0, "watts": value(0.5, 50.0)},
        "motor": two
        | {"volts": 12.0, "stall": value(0.5, 5.0), "running": value(0.01, 0.2), "spin_up": value(1e-3, 0.1)},
        "module": two | {"current": value(0.01, 0.5), "capacitance": value(1e-7, 1e-3)},
        "timer": {
            "vcc": "a",
            "trig": node(),
            "thr": node(),
            "reset": "a",
            "dis": node(),
            "out": node(),
            "delay": float(rng.choice([0.0, 1e-7])),
            "threshold_bias": 1e-7,
            "trigger_bias": 5e-7,
            "spike": float(rng.choice([0.0, 0.2])),
        },
        "counter": {"vdd": "a", "clk": node(), "reset": node(), "taps": {1: node(), 3: node()}},
        "comparator": {
            "p": node(),
            "m": node(),
            "out": node(),
            "vcc": "a",
            "open_collector": bool(rng.integers(2)),
        },
        "battery": {
            "a": two["a"],
            "b": two["b"],
            "volts": 9.0,
            "resistance": value(0.01, 5.0),
            "sag_resistance": float(rng.choice([0.0, 1.0])),
        },
        "meter": {"red": node(), "black": node()},
        "buzzer": two,
        "thyristor": {"a": node(), "k": node(), "g": node()},
        "optocoupler": {"a": node(), "k": node(), "c": node(), "e": node()},
        "bridge": {"p": node(), "n": node(), "a": node(), "b": node()},
    }
    plain = ["resistor"] * 6
    kind = str(rng.choice([*plain, *values]))
    return {"device": kind, "name": f"X{k}"} | values[kind]


def random_circuit(seed: int) -> dict[str, Any]:
    """A supply, leaks at every node, and some random devices."""
    rng = np.random.default_rng(seed)
    fixed = [{"device": "voltage", "name": "V", "a": "a", "b": "0", "value": 12.0, "resistance": 0.1}]
    leaks = [
        {"device": "resistor", "name": f"L{n}{k}", "a": n, "b": "0", "resistance": 2e5}
        for n in NODES[1:]
        for k in (1, 2)
    ]
    return {
        "format": "hexlet-netlist",
        "version": 1,
        "devices": [*fixed, *leaks, *(random_device(rng, k) for k in range(int(rng.integers(2, 9))))],
    }


class Fuzz(unittest.TestCase):
    def test_operating_points(self) -> None:
        answered = 0
        for seed in range(150):
            netlist = Netlist.of(read_netlist(random_circuit(seed)).devices)
            try:
                point = operating_point(netlist)
            except HexletError as error:
                self.assertTrue(error.problems[0].message, seed)
                continue
            answered += 1
            self.assertTrue(all(np.isfinite(v) for v in point.values.values()), seed)
            self.kirchhoff(netlist, point, seed)
        self.assertGreater(answered, 120)

    def kirchhoff(self, netlist: Netlist, point: Any, seed: int) -> None:
        sums: dict[str, float] = {}
        largest: dict[str, float] = {}
        for device in netlist.devices:
            for terminal, node in device.nodes().items():
                i = point.current(device.name, terminal)
                sums[node] = sums.get(node, 0.0) + i
                largest[node] = max(largest.get(node, 0.0), abs(i))
        for node, total in sums.items():
            if node != GROUND:
                self.assertLess(abs(total), 1e-3 * largest[node] + 1e-8, f"seed {seed}, node {node}")

    def test_transients(self) -> None:
        answered = 0
        for seed in range(200, 240):
            netlist = Netlist.of(read_netlist(random_circuit(seed)).devices)
            try:
                waves = transient(netlist, 3e-3)
            except HexletError as error:
                self.assertTrue(error.problems[0].message, seed)
                continue
            answered += 1
            self.assertTrue(np.isfinite(waves.unknowns).all(), seed)
            self.assertAlmostEqual(float(waves.time[-1]), 3e-3, delta=1e-9)
            self.assertTrue((np.diff(waves.time) >= 0).all(), seed)
        self.assertGreater(answered, 30)

    def test_the_same_seed_gives_the_same_bits(self) -> None:
        netlist = Netlist.of(read_netlist(random_circuit(205)).devices)
        try:
            one, two = transient(netlist, 3e-3), transient(netlist, 3e-3)
        except HexletError:
            self.skipTest("this circuit is refused")
        np.testing.assert_array_equal(one.unknowns, two.unknowns)


class DeviceContract(unittest.TestCase):
    """What every device must keep, over the whole list."""

    def examples(self) -> list[Device]:
        rng = np.random.default_rng(7)
        found: dict[str, Device] = {}
        for k in range(800):
            device = read_netlist(
                {"format": "hexlet-netlist", "version": 1, "devices": [random_device(rng, k)]}
            ).devices[0]
            found.setdefault(device.device, device)
        self.assertEqual(set(found), {d.model_fields["device"].default for d in DEVICES})
        return list(found.values())

    def test_codes_and_names_are_their_own(self) -> None:
        codes = [d.code for d in DEVICES if d.code]
        self.assertEqual(len(set(codes)), len(codes))
        self.assertEqual(len({d.model_fields["device"].default for d in DEVICES}), len(DEVICES))
        for device in DEVICES:
            self.assertTrue(device.__doc__)

    def test_currents_into_a_device_sum_to_nothing(self) -> None:
        """Oracle: charge conservation inside each device, at random voltages."""
        for device in self.examples():
            extra = [
                {"device": "resistor", "name": f"L{n}", "a": n, "b": "0", "resistance": 100.0}
                for n in NODES[1:]
            ]
            sources = [
                {"device": "current", "name": f"I{n}", "a": "0", "b": n, "value": v}
                for n, v in zip(NODES[1:], (0.01, -0.02, 0.03, 0.005), strict=True)
            ]
            netlist = Netlist.of(
                [
                    *read_netlist(
                        {"format": "hexlet-netlist", "version": 1, "devices": [*extra, *sources]}
                    ).devices,
                    device,
                ]
            )
            point = operating_point(netlist)
            total = sum(point.current(device.name, t) for t in device.nodes())
            self.assertAlmostEqual(total, 0.0, delta=1e-9, msg=device.device)

    def test_documents_round_trip(self) -> None:
        for device in self.examples():
            self.assertEqual(type(device).model_validate(device.model_dump(mode="json")), device)

    def test_slopes_are_the_derivatives_of_the_currents(self) -> None:
        """Oracle: central differences of each device's own current against the matrix it stamps."""
        from hexlet_core.circuit import devices as equations

        for device in self.examples():
            packed = Netlist.of([device]).packed
            n = len(packed.unknowns)
            rng = np.random.default_rng(3)
            x = np.append(rng.uniform(-0.4, 0.4, n), 0.0)

            def at(x: np.ndarray, packed: Any = packed, n: int = n) -> tuple[np.ndarray, np.ndarray]:
                J, C, F, Q, lim = (
                    np.zeros((n + 1, n + 1)),
                    np.zeros((n + 1, n + 1)),
                    np.zeros(n + 1),
                    np.zeros(n + 1),
                    packed.lim.copy(),
                )
                for _ in range(60):
                    J[:], C[:], F[:], Q[:] = 0.0, 0.0, 0.0, 0.0
                    limited = sum(
                        equations.load(packed.ia, p, packed.fa, packed.sa, lim, x, J, C, F, Q, 0.0, 1.0)
                        for p in range(0, len(packed.ia), equations.RECORD)
                    )
                    if limited == 0:
                        break
                return F + 1e3 * Q, J + 1e3 * C

            _, jacobian = at(x)
            for k in range(n):
                step = np.zeros(n + 1)
                step[k] = 1e-6
                slope = (at(x + step)[0] - at(x - step)[0])[:n] / 2e-6
                scale = np.abs(jacobian[:n, :n]).max() + 1e-12
                np.testing.assert_allclose(
                    jacobian[:n, k] / scale,
                    slope / scale,
                    atol=2e-4,
                    err_msg=f"{device.device}, {packed.unknowns[k]}",
                )
