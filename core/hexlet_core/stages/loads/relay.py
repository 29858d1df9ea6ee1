"""What loads with a relay's coil share: the winding, its contact's ratings, how it is measured, read and
watched.

`rules.coil` holds the rules of the winding, `rules.contact` those of the contact.
"""

from __future__ import annotations

from abc import abstractmethod
from collections.abc import Iterator
from typing import Annotated, Literal

from pydantic import StringConstraints, ValidationInfo, field_validator

from ...cards.card import RelayCard, coil_henries
from ...fields import Q
from ...quantity import show
from ..contract.descriptions import Ladder, Measure
from ..contract.facts import Demand
from ..contract.parts import Placed, from_card
from ..contract.scenes import Probe, Watch
from ..contract.site import Site
from ..contract.stage import Load
from ..rules.coil import Coil
from ..rules.contact import STARTS, Switched, contact_checks, ladder, wall_cautions
from ..rules.supplied import supplied
from ..say.checks import Check, Shown
from ..say.wording import Say, Sentence, Word
from .two_wire import load_current


class RelayLoad(Load):
    """A relay whose coil is the load; its part is called "relay"."""

    picture = "coil"
    cards = {"card": RelayCard}

    card: str = "relay-12v-96r"
    resistance: Annotated[float, Q("Ω", 1.0, 1e6)] = 96.0
    measured_at: Annotated[float, Q("°C", -40.0, 80.0)] = 25.0
    rated: Annotated[float, Q("V", 1.0, 500.0)] = 12.0
    hottest: Annotated[float, Q("°C", -20.0, 120.0)] = 52.0
    time_constant: Annotated[float, Q("s", 1e-5, 1.0)] = 4.7e-3
    contact_load: Literal["resistive", "motor", "lamp", "signal"] = "motor"
    contact_volts: Annotated[float, Q("V", 0.1, 500.0)] = 12.6
    contact_current: Annotated[float, Q("A", 1e-6, 100.0)] = 1.2
    contact_supply: Literal["DC", "AC"] = "DC"
    contact_name: Annotated[str, StringConstraints(min_length=1, max_length=24, strip_whitespace=True)] = (
        "Fan"
    )

    @field_validator("time_constant")
    @classmethod
    def _possible(cls, time_constant: float, info: ValidationInfo) -> float:
        coil_henries(time_constant, info.data.get("resistance", 1.0))
        return time_constant

    @property
    @abstractmethod
    def apart(self) -> bool:
        """Whether the contact side is a circuit of its own that is not drawn, wired or simulated."""

    def coil(self, site: Site) -> Coil:
        """The winding."""
        card = site.card("card", RelayCard)
        return Coil(card, self.resistance, self.rated, self.measured_at, self.hottest, self.time_constant)

    def placed(self, site: Site, contact: dict[str, str]) -> Placed:
        """The relay, its contact's legs joined to the nets given."""
        card = site.card("card", RelayCard)
        run = f"contact {show(card.ratings['resistive'].run, 'A')}" if "resistive" in card.ratings else ""
        ohms = show(self.resistance, "Ω")
        low, high = self.resistance * 0.97 + 0.1, self.resistance * 1.03 + 0.4
        how = (
            "Meter on ohms across the pair of pins that reads 20 Ω to 1 kΩ. OL or 0: those are contact pins."
        )
        return from_card(
            site,
            "relay",
            "K",
            "card",
            {"a": "top", "b": "bottom", **contact},
            numbers=self.coil(site).numbers,
            value=f"{show(self.rated, 'V')}, {ohms}",
            mark=ohms,
            rating=run,
            on_board=False,
            check=(how, f"{show(low, 'Ω')} to {show(high, 'Ω')}"),
        )

    @property
    def switched(self) -> Switched:
        """What the contact switches."""
        starts = self.contact_current * STARTS[self.contact_load]
        ac = self.contact_supply == "AC"
        return Switched(
            self.contact_name, self.contact_load, self.contact_current, starts, self.contact_volts, ac
        )

    def takes(self, site: Site) -> Demand:
        return self.coil(site).demand(f"{self.contact_name} runs")

    def phrase(self, say: Say, site: Site) -> Sentence:
        return (say.field("resistance"), Word(text="coil"))

    def checks(self, site: Site) -> Iterator[Check]:
        coil = self.coil(site)
        got = supplied(site.switch, self.takes(site))
        yield from coil.checks(site.rail, got, Shown("v(top,bottom)", site.switch.runs, floor=0.02))
        yield from contact_checks(coil.card.ratings, self.switched)

    def ladder(self, site: Site) -> Ladder:
        return ladder(site.card("card", RelayCard).ratings, self.switched)

    def cautions(self, site: Site) -> tuple[str, ...]:
        where = f"{self.contact_name} at the contact"
        return wall_cautions(self.contact_volts, self.contact_supply == "AC", where)

    def measures(self, site: Site) -> tuple[Measure, ...]:
        return (
            Measure(
                title="Coil resistance",
                mode="ohms",
                red="one coil pin",
                black="the other coil pin",
                path=site.path("resistance"),
                means=(
                    "Relay out, power off. The coil is the pair that reads 20 Ω to 1k. OL or 0: those are "
                    "contact pins. Take the leads' own resistance off."
                ),
            ),
            Measure(
                title="Contact at rest",
                mode="ohms",
                red="COM",
                black="NC",
                means="0 Ω at rest: that pair is COM and NC. COM to NO reads OL until the coil clicks.",
            ),
        )

    def probes(self, site: Site) -> tuple[Probe, ...]:
        found = load_current(site, "relay", "Coil current")
        return (found.model_copy(update={"id": "coil_current"}),)

    def watches(self, site: Site) -> tuple[Watch, ...]:
        coil = self.coil(site)
        marks = ((coil.pull_in, "pulls in"), (coil.drop_out, "lets go"))
        words = ("open", "closed")
        return (
            Watch(id="current", title="Coil current", unit="A", signal="i(relay)", place=2, limits=marks),
            Watch(id="contact", title="Contact", unit="", signal="state(relay,2)", place=4, words=words),
        )
