"""Corners, random draws, sensitivities, sweeps, maps, measurements and events. Each test names its oracle."""

import json
import unittest
from pathlib import Path

import numpy as np
from hexlet_core.circuit import batch, vary
from hexlet_core.circuit.devices import DEVICES, Bounce, Button, Capacitor, Resistor, VoltageSource
from hexlet_core.circuit.measure import Measurement, crossings, signal
from hexlet_core.circuit.netlist import Netlist
from hexlet_core.circuit.solve import operating_point, transient
from hexlet_core.design.script import (
    Event,
    LiftPart,
    PressButton,
    ProbeNode,
    RefitPart,
    SetSupply,
    SweepInput,
    TurnPot,
)
from hexlet_core.errors import DocumentError, Problem, SettleError
from hexlet_core.formats.netlist import read_netlist, solve_document
from hexlet_core.rehearsal.events import apply

from .registered import one_shot, r, registered, v

EXAMPLES = Path(__file__).resolve().parents[2] / "docs" / "netlists"


def divider() -> Netlist:
    return Netlist.of(
        [
            v("V", "a", 10.0),
            Resistor(name="R1", a="a", b="m", resistance=1e3, tolerance=0.05),
            Resistor(name="R2", a="m", b="0", resistance=1e3, tolerance=0.01),
        ]
    )


def middle(netlist: Netlist) -> dict[str, float]:
    return {"m": operating_point(netlist)["m"]}


class Variation(unittest.TestCase):
    def test_corners_of_a_divider(self) -> None:
        """Oracle: Ohm's law at the extremes of both resistors."""
        found = vary.corners(divider(), middle)
        self.assertEqual(found.combined, ("R1.resistance", "R2.resistance"))
        low, high = found.extremes["m"]
        self.assertAlmostEqual(low, 10 * 990 / (1050 + 990), places=6)
        self.assertAlmostEqual(high, 10 * 1010 / (950 + 1010), places=6)
        self.assertEqual(found.worst["m"][0], {"R1.resistance": 1050.0, "R2.resistance": 990.0})

    def test_too_many_corners_keep_those_that_matter(self) -> None:
        """Oracle: with room for one factor of two it is the 5 % resistor."""
        found = vary.corners(divider(), middle, most=2)
        self.assertEqual((found.combined, found.left_out), (("R1.resistance",), ("R2.resistance",)))

    def test_sensitivities(self) -> None:
        """Oracle: equal slopes, so the shares go as the squares of the tolerances, 25 to 1."""
        shares = vary.sensitivities(divider(), middle)[0]["m"]
        self.assertAlmostEqual(shares["R1.resistance"], 25 / 26, delta=0.01)
        self.assertAlmostEqual(sum(shares.values()), 1.0)

    def test_monte_carlo_of_a_divider(self) -> None:
        """Oracle: the variance of a uniform spread, (Δ²/3 summed), carried through the divider's slope."""
        values = vary.monte_carlo(divider(), middle, 4000, seed=3)["m"]
        slope = 10 * 0.25
        exact = slope * np.sqrt((0.05**2 + 0.01**2) / 3)
        self.assertAlmostEqual(float(values.std()), exact, delta=0.05 * exact)
        self.assertAlmostEqual(float(values.mean()), 5.0, delta=0.01)
        normal = vary.monte_carlo(divider(), middle, 2000, seed=3, distribution="normal")["m"]
        self.assertAlmostEqual(float(normal.std()), exact * np.sqrt(3) / 3, delta=0.06 * exact)

    def test_the_seed_says_everything(self) -> None:
        """Oracle: the k-th variant is the same however many are drawn, and in any number of threads."""
        few, many = (
            vary.monte_carlo(divider(), middle, n, seed=9, workers=w)["m"] for n, w in ((5, 1), (50, 2))
        )
        np.testing.assert_array_equal(few, many[:5])

    def test_statistics(self) -> None:
        """Oracle: the definitions, on numbers small enough to see."""
        found = vary.statistics("x", np.array([1.0, 2.0, 3.0, 4.0, np.nan]), (1.5, 3.5))
        self.assertEqual(
            (found.count, found.missing, found.mean, found.low, found.high), (5, 1, 2.5, 1.0, 4.0)
        )
        self.assertAlmostEqual(found.deviation, np.sqrt(5 / 3))
        self.assertEqual((found.percentiles[50], found.met), (2.5, 0.4))

    def test_packing_anew_and_varying_agree(self) -> None:
        """Oracle: the changed circuit built from nothing."""
        circuit = one_shot().netlist
        changes = {"R": {"resistance": 68e3}, "C": {"capacitance": 2e-5}, "U": {"r_high": 7.0}}
        quick, anew = (
            circuit.varied(changes),
            Netlist.of([d.with_values(changes.get(d.name, {})) for d in circuit.devices]),
        )
        np.testing.assert_array_equal(quick.packed.fa, anew.packed.fa)
        np.testing.assert_array_equal(quick.packed.plan, anew.packed.plan)

    def test_sweep_and_map(self) -> None:
        """Oracle: Ohm's law at each point; rows run down, columns across."""
        volts = [2.0, 4.0, 8.0]
        np.testing.assert_allclose(
            vary.sweep(divider(), "V.value", volts, middle)["m"], np.array(volts) / 2, rtol=1e-6
        )
        ohms = [1e3, 3e3]
        found = vary.plane(divider(), "V.value", volts, "R2.resistance", ohms, middle)["m"]
        np.testing.assert_allclose(found, [[x * y / (1e3 + y) for x in volts] for y in ohms], rtol=1e-6)
        with self.assertRaisesRegex(DocumentError, "like V1.value"):
            vary.sweep(divider(), "V9.value", volts, middle)

    def test_a_variant_without_an_answer_is_missing(self) -> None:
        """Oracle: the count of those that fail."""

        def study(netlist: Netlist) -> dict[str, float]:
            if netlist.devices[1].resistance > 1e3:  # type: ignore[attr-defined]
                raise SettleError(Problem("time", "no answer"), 0.0)
            return {"x": 1.0}

        found = vary.sweep(divider(), "R1.resistance", [500.0, 2000.0, 800.0], study)
        self.assertEqual(np.isnan(found["x"]).tolist(), [False, True, False])
        (failure,) = found.failed
        self.assertEqual((failure.index, failure.variant), (1, {"R1.resistance": 2000.0}))
        with self.assertRaisesRegex(SettleError, "None of 2 variants.*no answer"):
            vary.sweep(divider(), "R1.resistance", [2000.0, 3000.0], study)

    def test_extremes_say_of_how_many(self) -> None:
        """Oracle: of the nine circuits, nominal and all corners, the level is reached in those whose divider
        gives over 5 V.
        """
        net = Netlist.of(
            [*divider().devices, Resistor(name="R3", a="m", b="0", resistance=1e6, tolerance=0.5)]
        )

        def study(netlist: Netlist) -> dict[str, float]:
            m = operating_point(netlist)["m"]
            return {"over": m} if m > 5.0 else {}

        found = vary.corners(net, study)
        self.assertEqual((found.count, found.shown["over"], len(found.missing["over"])), (9, 4, 5))
        self.assertTrue(all(where["R1.resistance"] > 1e3 for where in found.missing["over"] if where))
        values = vary.monte_carlo(net, study, 200, seed=4)
        leans = vary.depends(net, values.missing("over"), 200, 4)
        self.assertEqual(max(leans, key=lambda name: abs(leans[name])), "R1.resistance")
        self.assertGreater(leans["R1.resistance"], 0.5)

    def test_parts_of_one_lot_deviate_together(self) -> None:
        """Oracle: a divider of two resistors of one lot and one tolerance does not move."""
        alike = Netlist.of(
            [
                v("V", "a", 10.0),
                *(
                    Resistor(name=n, a=a, b=b, resistance=1e3, tolerance=0.05, lot="L")
                    for n, a, b in (("R1", "a", "m"), ("R2", "m", "0"))
                ),
            ]
        )
        values = vary.monte_carlo(alike, middle, 20)["m"]
        np.testing.assert_allclose(values, 5.0, atol=1e-6)
        self.assertEqual(vary.corners(alike, middle).combined, ("lot L.resistance",))

    def test_values_outside_their_bounds_are_refused(self) -> None:
        for path, value in (("R1.resistance", 0.0), ("R1.resistance", -500.0), ("R1.temperature", -400.0)):
            with self.subTest(value), self.assertRaisesRegex(DocumentError, "outside"):
                vary.sweep(divider(), path, [value], middle)
        for spread in (
            {"resistance": (2e3, 1e3)},
            {"resistance": (float("nan"), 1.0)},
            {"resistance": (0.0, 1e3)},
            {"colour": (1.0, 2.0)},
        ):
            with self.subTest(spread), self.assertRaises(ValueError):
                Resistor(name="R", a="a", b="0", resistance=1e3, spread=spread)  # type: ignore[arg-type]


class Batches(unittest.TestCase):
    def test_progress_order_and_cancel(self) -> None:
        """Oracle: squares in order; nothing after the stop."""
        told: list[tuple[int, int]] = []
        self.assertEqual(
            batch.run(lambda x: x * x, range(20), progress=lambda a, b: told.append((a, b))),
            [x * x for x in range(20)],
        )
        self.assertEqual((told[0], told[-1]), ((1, 20), (20, 20)))
        with self.assertRaisesRegex(batch.Cancelled, "Stopped after 3 of 20"):
            batch.run(
                lambda x: x,
                range(20),
                progress=lambda a, b: told.append((a, b)),
                cancelled=lambda: told[-1][0] == 3,
            )

    def test_a_transient_can_be_stopped_from_outside(self) -> None:
        """Oracle: the time reached is short of the end."""
        control = np.array([1.0, 0.0])
        with self.assertRaisesRegex(Exception, "cancelled"):
            transient(one_shot().netlist, 2.0, control=control)


class Measures(unittest.TestCase):
    t = np.linspace(0.0, 1.0, 1001)

    def of(self, what: str, value: np.ndarray, **more: object) -> float:
        return Measurement(name="m", what=what, signal="x", **more).on(self.t, value)  # type: ignore[arg-type]

    def test_on_curves_with_known_answers(self) -> None:
        """Oracle: closed forms for a ramp, a square wave of 10 Hz at 30 %, an exponential and a
        damped ring.
        """
        ramp = 10 * self.t
        self.assertAlmostEqual(self.of("delay", ramp, level=2.5, after=0.1), 0.15)
        self.assertAlmostEqual(self.of("mean", ramp), 5.0)
        self.assertAlmostEqual(self.of("energy", ramp), 5.0)
        self.assertAlmostEqual(self.of("time_above", ramp, level=7.5), 0.25)
        self.assertAlmostEqual(self.of("rise", ramp), 0.8, places=6)
        self.assertEqual((self.of("lowest", ramp, after=0.2), self.of("final", ramp, until=0.5)), (2.0, 5.0))
        fine = np.linspace(0, 1, 100_001)
        square = np.where((fine * 10 + 0.5) % 1 < 0.3, 5.0, 0.0)

        def on(what: str) -> float:
            return Measurement(name="m", what=what, signal="x").on(fine, square)  # type: ignore[arg-type]

        self.assertAlmostEqual(on("frequency"), 10.0, places=3)
        self.assertAlmostEqual(on("duty"), 0.3, places=3)
        self.assertAlmostEqual(on("width"), 0.03, places=4)
        self.assertEqual((on("transitions"), on("chatter")), (20.0, 0.0))
        decay = np.exp(-self.t / 0.1)
        self.assertAlmostEqual(self.of("fall", decay), 0.1 * np.log(9), delta=2e-3)
        self.assertEqual((self.of("settled", decay), self.of("settled", ramp)), (1.0, 0.0))
        ring = 1 - np.exp(-3 * self.t) * np.cos(20 * self.t)
        self.assertAlmostEqual(
            self.of("overshoot", ring), float((ring.max() - ring[-1]) / abs(ring[-1] - ring[0]))
        )

    def test_what_is_not_there_is_not_a_number(self) -> None:
        flat = np.ones(1001)
        for what in ("delay", "period", "width", "rise"):
            self.assertTrue(np.isnan(self.of(what, flat, level=2.0)), what)
        self.assertEqual(len(crossings(self.t, flat, 2.0)), 0)

    def test_signals_by_name(self) -> None:
        """Oracle: Ohm's law."""
        point = operating_point(divider()).waves
        for name, value in (
            ("m", 5.0),
            ("v(a,m)", 5.0),
            ("i(R1.a)", 5e-3),
            ("p(R2)", 25e-3),
            ("i(V)", -5e-3),
        ):
            self.assertAlmostEqual(float(signal(point, name)[0]), value, places=6, msg=name)
        for name in ("nowhere", "i(R9.a)", "p(Q)", "v(a,zz)"):
            with self.assertRaisesRegex(DocumentError, "that name"):
                signal(point, name)


class Happenings(unittest.TestCase):
    def test_lift_and_refit(self) -> None:
        """Oracle: without R2 the middle rises to the source; with it back it is halved again."""
        waves = transient(
            apply(divider(), [LiftPart(part="R2", at=1e-3), RefitPart(part="R2", at=2e-3)]), 3e-3
        )
        at = np.interp([0.5e-3, 1.5e-3, 2.5e-3], waves.time, waves["m"])
        np.testing.assert_allclose(at, [5.0, 10.0, 5.0], atol=1e-3)

    def test_probe_loads(self) -> None:
        """Oracle: a divider of 1 MΩ with a meter of 1 MΩ across half of it."""
        high = Netlist.of([v("V", "a", 10.0), r("R1", "a", "m", 1e6), r("R2", "m", "0", 1e6)])
        waves = transient(apply(high, [ProbeNode(red="m", at=1e-2, until=2e-2, resistance=1e6)]), 4e-2)
        at = np.interp([5e-3, 1.9e-2, 3.9e-2], waves.time, waves["m"])
        np.testing.assert_allclose(at, [5.0, 10 / 3, 5.0], atol=5e-3)

    def test_press_supply_sweep_and_turn(self) -> None:
        """Oracle: what was asked for is in the devices' own lists."""
        button = Netlist.of([v("V", "a", 5.0), r("R", "a", "x", 1e4), Button(name="S", com="x", no="0")])
        bounce = Bounce(duration=2e-3, times=2, seed=4)
        pressed = transient(apply(button, [PressButton(button="S", at=1e-3, hold=5e-3, bounce=bounce)]), 2e-2)
        falls = crossings(pressed.time, pressed["x"], 2.5, "fall")
        self.assertEqual(len(falls), 3)  # the first touch and two reopenings
        ramped = transient(apply(divider(), [SetSupply(source="V", at=1e-3, volts=4.0, ramp=1e-3)]), 4e-3)
        self.assertAlmostEqual(float(np.interp(1.5e-3, ramped.time, ramped["a"])), 7.0, delta=1e-6)
        swept = transient(apply(divider(), [SweepInput(source="V", at=0.0, volts=0.0, over=2e-3)]), 4e-3)
        self.assertAlmostEqual(float(np.interp(1e-3, swept.time, swept["m"])), 2.5, delta=1e-6)

    def test_what_cannot_happen_is_refused(self) -> None:
        for event, words in (
            (PressButton(button="S9", at=0, hold=1), "no button of that name"),
            (TurnPot(pot="R1", at=0, to=1), "no potentiometer"),
            (RefitPart(part="R1", at=0), "not out"),
            (ProbeNode(red="zz", at=0, until=1), "no node of that name"),
        ):
            with self.assertRaisesRegex(DocumentError, words):
                apply(divider(), [event])
        with self.assertRaisesRegex(DocumentError, "already out"):
            apply(divider(), [LiftPart(part="R1", at=0), LiftPart(part="R1", at=1)])

    def test_events_need_not_come_in_order(self) -> None:
        """Oracle: the same events sorted."""
        events: list[Event] = [LiftPart(part="R2", at=1e-3), RefitPart(part="R2", at=2e-3)]
        a, b = (transient(apply(divider(), e), 3e-3)["m"] for e in (events, events[::-1]))
        np.testing.assert_array_equal(a, b)


class PressMap(unittest.TestCase):
    def test_a_timer_latch_over_press_length(self) -> None:
        """Oracle: the memory capacitor holds the inverse, so a short press turns it on; held long it changes
        again and again.
        """
        answer = solve_document(read_netlist(json.loads((EXAMPLES / "press-map.json").read_text("utf-8"))))
        changes = dict(
            zip(
                zip(answer.columns["S1.press_for"], answer.columns["V1.value"], strict=True),
                answer.columns["changes"],
                strict=True,
            )
        )
        for volts in (6.0, 9.0, 12.0):
            self.assertEqual(changes[0.02, volts], 1.0)
            self.assertEqual(changes[0.05, volts], 1.0)


class Examples(unittest.TestCase):
    def test_every_example_is_answered(self) -> None:
        for file in sorted(EXAMPLES.glob("*.json")):
            with self.subTest(file.stem):
                answer = solve_document(read_netlist(json.loads(file.read_text("utf-8"))))
                self.assertGreater(len(next(iter(answer.columns.values()))), 0)
                measured = answer.notes.get("measured", {})
                self.assertTrue(all(value is not None for value in measured.values()), measured)

    def test_every_device_has_one(self) -> None:
        named = {d.model_fields["device"].default for d in DEVICES}
        self.assertLessEqual(named, {f.stem for f in EXAMPLES.glob("*.json")})

    def test_stress_is_reported(self) -> None:
        """Oracle: 12 V on a capacitor for 10 V."""
        source = VoltageSource(name="V", a="a", b="0", points=[(0.0, 0.0), (1e-3, 0.0), (2e-3, 12.0)])
        waves = transient(
            Netlist.of(
                [
                    source,
                    r("R", "a", "x", 10.0),
                    Capacitor(name="C", a="x", b="0", capacitance=1e-6, limit=10.0),
                    r("RX", "x", "0", 1e6),
                ]
            ),
            5e-3,
        )
        (stress,) = waves.stresses()
        self.assertEqual((stress.device, stress.limit), ("C", 10.0))
        self.assertAlmostEqual(stress.reached, 12.0, delta=0.01)
        self.assertAlmostEqual(stress.time, 1e-3 + 10 / 12 * 1e-3, delta=1e-4)

    def test_timing_of_one_shots_over_their_parts(self) -> None:
        """Oracle: t = R·C·ln 3 in each variant, with that variant's own R and C."""
        circuit = registered()["one_shot"].netlist
        spread = [
            d.model_copy(update={"tolerance": 0.05}) if d.name in ("R", "C") else d for d in circuit.devices
        ]
        width = Measurement(name="t", what="width", signal="state(U)", level=0.5)
        net = Netlist.of(spread)
        values = vary.monte_carlo(net, lambda n: {"t": width.of(transient(n, 2.0))}, 12, seed=2)["t"]
        for k, value in enumerate(values):
            change = vary.draw(vary.factors(net), 2, k)
            exact = change["R"]["resistance"] * change["C"]["capacitance"] * np.log(3)
            self.assertAlmostEqual(float(value), exact, delta=2e-4 * exact)
