"""What transistor switches share: their ports, and what is read and watched."""

from __future__ import annotations

from collections.abc import Callable
from typing import Annotated, ClassVar, Literal

from ...cards.card import FieldEffectCard
from ...cards.points import channel_volts
from ...fields import Q, Unless
from ..contract.facts import Loss, Side, State, Switch
from ..contract.ports import Port, rail_in
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Drive
from ..rules.base_drive import BaseDrive
from ..rules.gate_drive import GateDrive, hot_resistance
from ..say.wording import Say, Sentence, Word


class TransistorDrive(Drive):
    """A switch on one side of its load. A kind names its `output` net, its `controls`, the main one first to
    be read.
    """

    output: ClassVar[str] = "drain"
    controls: ClassVar[tuple[str, ...]] = ()  # nets worth reading besides the output
    main: ClassVar[str] = ""  # of these the switch's own base or gate, where guards may hang on it

    @property
    def side(self) -> Side:
        """On which side of the load it switches."""
        return "low"

    @property
    def inverts(self) -> bool:
        """Whether a low command turns the load on."""
        return False

    @property
    def on(self) -> State:
        """The command's level that closes it."""
        return "low" if self.inverts else "high"

    def runs(self, site: Site) -> Literal["active", "idle"]:
        """The command's state in which it is closed."""
        return "active" if site.command.sense == self.on else "idle"

    @property
    def commanded(self) -> str:
        """The net that the command drives: its control's own where nothing lies between."""
        return "signal"

    def ports(self) -> tuple[Port, ...]:
        low = self.side == "low"
        ends = {"top": "plus", "bottom": self.output} if low else {"top": self.output, "bottom": "zero"}
        held = {"gate": self.main, "ref": "zero" if low else "plus", "out": self.output}
        control = (
            (Port("control", "control", "out", held, needed=False, side=self.side),) if self.main else ()
        )
        return (
            rail_in(),
            Port("command", "command", "in", {"out": self.commanded, "ref": "zero"}),
            *control,
            Port("out", "load", "out", ends, side=self.side),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        on = self.runs(site)
        found = [
            Probe(
                id=n,
                title=f"{n.replace('_', ' ').capitalize()} to 0 V",
                red=f"{n.replace('_', ' ')} strip",
                signal=n,
                scenes=("idle", "active") if k else (on, "rest"),
            )
            for k, n in enumerate(self.controls)
        ]
        out = self.output
        found.append(Probe(id=out, title=f"{out.capitalize()} to 0 V", red=f"{out} strip", signal=out))
        return tuple(found)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        out, peak = self.output, self.side == "low"
        return (
            Watch(id=out, title=out.capitalize(), unit="V", signal=out, place=3, peak=peak),
            *(
                Watch(id=n, title=n.replace("_", " ").capitalize(), unit="V", signal=n, place=5, shown=False)
                for n in self.controls
            ),
        )

    def bipolar_switch(self, site: Site, base: BaseDrive, drop: float = 0.0) -> Switch:
        """A saturated transistor as a switch; `drop` is what it keeps above V_CE(sat) at most [V]."""
        card = base.card
        return Switch(
            ref=site.ref("switch"),
            output=self.output,
            side=self.side,
            rail=site.rail,
            losses=(
                Loss(
                    lambda amps: base.across(amps, base.feed.weak),
                    lambda amps: card.v_ce_sat + drop,
                    lambda amps: base.across(amps, base.usual),
                ),
            ),
            breakdown=card.v_ceo,
            capacitance=2e-11,
            on=self.on,
            active=self.runs(site) == "active",
        )

    def mosfet_switch(self, site: Site, card: FieldEffectCard, gate: GateDrive) -> Switch:
        """A MOSFET as a switch: its on-resistance cold and hot."""
        r = gate.resistance(gate.least)
        hot = hot_resistance(r)

        def across(gate_volts: float) -> Callable[[float], float]:
            return lambda amps: channel_volts(card, gate_volts, amps)

        return Switch(
            ref=site.ref("switch"),
            output=self.output,
            side=self.side,
            rail=site.rail,
            losses=(Loss(across(gate.least), lambda amps: amps * hot, across(gate.usual)),),
            breakdown=card.v_ds,
            capacitance=card.c_oss,
            on=self.on,
            active=self.runs(site) == "active",
            opens=gate.opens,
            avalanche=card.avalanche_energy if card.avalanche_rated else None,
        )


class Uncommanded(TransistorDrive):
    """A switch that nobody commands: its buttons, a level or the supply itself decide."""

    def ports(self) -> tuple[Port, ...]:
        return tuple(p for p in super().ports() if p.kind != "command")

    def runs(self, site: Site) -> Literal["active", "idle"]:
        return "active"


class Cooled(TransistorDrive):
    """A switch that may be bolted to a heatsink."""

    heatsink: Annotated[Annotated[float, Q("K/W", 0.1, 200.0)] | None, Unless("none")] = None

    def givens(self, say: Say, site: Site, fed: Sentence) -> dict[str, Sentence]:
        if self.heatsink is None:
            return {}
        return {"drive": (Word(text="with a heatsink of"), say.field("heatsink", note="to air"))}


class NoTransistor(TransistorDrive):
    """A drive without a part of its own: what gives the command is the switch, in the load's upper line."""

    @property
    def summary(self) -> str:
        return "No transistor"

    @property
    def side(self) -> Side:
        return "high"
