"""A block's place in a design: the facts of its neighbours, its nets and references, the drawer, the
surroundings.
"""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from typing import TYPE_CHECKING, Any, Protocol, TypeVar

from ...cards import Drawer, catalogue
from ...cards.card import Card
from ...fields import quantity_of
from .facts import Attached, Command, Contact, Control, Demand, Draw, Fact, Open, Rail, Side, Switch
from .scenes import UPSTREAM

if TYPE_CHECKING:
    from ..say.windows import Series
    from .parts import Placed
    from .stage import Stage

C = TypeVar("C", bound=Card)
F = TypeVar("F")


class Surroundings(Protocol):
    """What a site asks of the design it lies in."""

    drawer: Drawer
    sites: Mapping[str, Site]
    hot: float
    series: Series

    def tolerance(self, block: str) -> float: ...

    def seen(self, block: str, port: str) -> Sequence[Fact]: ...

    def net(self, block: str, local: str) -> str: ...

    def ref(self, block: str, local: str) -> str: ...

    def parts(self, block: str) -> Sequence[Placed]: ...

    def beside(self, block: str, port: str) -> Sequence[Fact]: ...

    def side(self, block: str) -> Side: ...

    def onward(self, block: str) -> str: ...

    def joined(self, block: str, port: str) -> Sequence[tuple[str, str]]: ...


class Site:
    """One block's place. A fact behind a port that is not joined raises `Open`, which the core catches."""

    def __init__(self, flow: Surroundings, block: str, stage: Stage) -> None:
        self._flow, self.id, self.stage = flow, block, stage

    @property
    def drawer(self) -> Drawer:
        return self._flow.drawer

    @property
    def hot(self) -> float:
        """The hottest surroundings [°C]."""
        return self._flow.hot

    @property
    def tolerance(self) -> float:
        """Of its resistors, relative."""
        return self._flow.tolerance(self.id)

    @property
    def series(self) -> Series:
        """What values are chosen from."""
        return self._flow.series

    def path(self, field: str) -> str:
        """The document path of one of the block's own fields."""
        return f"blocks.{self.id}.{field}"

    def unit(self, field: str) -> str:
        """The unit of one of the block's own fields."""
        found = quantity_of(type(self.stage), field)
        return found.unit if found is not None else ""

    def net(self, local: str) -> str:
        """The circuit's name of one of the block's own nets."""
        return self._flow.net(self.id, local)

    def ref(self, local: str) -> str:
        """The reference of one of the block's own parts; a part that is not fitted is called by what it would
        be.
        """
        return self._flow.ref(self.id, local)

    def lane(self, watch: str) -> str:
        """The design's name of one of the block's watched quantities."""
        return f"{self.id}.{watch}"

    @property
    def side(self) -> Side:
        """On which side of the load its switch lies, for a block in a load's line or on a control.

        It is a matter of joins, not a fact: parts may depend on it.
        Raises:
            Open: no switch is joined yet.
        """
        return self._flow.side(self.id)

    def onward(self) -> str:
        """The reference of the part at the end of this block's line; empty while that is open."""
        return self._flow.onward(self.id)

    def fitted(self, local: str) -> bool:
        return any(p.local == local for p in self._flow.parts(self.id))

    def part(self, local: str) -> Placed:
        """One of the block's own parts."""
        return next(p for p in self._flow.parts(self.id) if p.local == local)

    def card(self, field: str, kind: type[C]) -> C:
        """The part card that a field names, as a `kind` of card; the archetype that the block's kind begins
        with where the drawer has no such card, or one of another kind.
        """
        named, usual = getattr(self.stage, field), type(self.stage).model_fields[field].default
        found = catalogue()[usual] if self.unknown(field) else self.drawer.cards[named]
        assert isinstance(found, kind)
        return found

    def unknown(self, field: str) -> bool:
        """Whether the card that a field names is not in the drawer, or is of another kind of part."""
        found = self.drawer.cards.get(getattr(self.stage, field))
        return not isinstance(found, self.stage.cards[field])

    def seen(self, port: str) -> Sequence[Any]:
        """The facts of all neighbours at a port."""
        return self._flow.seen(self.id, port)

    def joined(self, port: str) -> Sequence[tuple[str, str]]:
        """The neighbours at a port, as block and port."""
        return self._flow.joined(self.id, port)

    def presser(self, port: str) -> str:
        """The block of the contact at a port; the nearest actor before this block where none is joined."""
        return next((block for block, _ in self.joined(port)), UPSTREAM)

    def beyond(self, port: str) -> Site:
        """The place of the one neighbour at a port.

        Raises:
            Open: nothing is joined there.
        """
        found = self.joined(port)
        if not found:
            raise Open(f"{self.id}.{port}")
        return self._flow.sites[found[0][0]]

    def one(self, port: str, kind: type[F]) -> F:
        """The one fact at a port.

        Raises:
            Open: nothing is joined there.
        """
        found = self.seen(port)
        if not found:
            raise Open(f"{self.id}.{port}")
        assert isinstance(found[0], kind)
        return found[0]

    def told(self, port: str, kind: type[F]) -> F | None:
        """The first fact of a kind at a port; nothing where no neighbour states one."""
        return next((f for f in self.seen(port) if isinstance(f, kind)), None)

    @property
    def rail(self) -> Rail:
        """The rail it works on: its own, or the one its load's switch is on."""
        if any(p.name == "rail" for p in self.stage.ports()):
            return self.one("rail", Rail)
        return self.switch.rail

    @property
    def command(self) -> Command:
        return self.one("command", Command)

    @property
    def switch(self) -> Switch:
        return self.one("load", Switch)

    @property
    def control(self) -> Control:
        return self.one("control", Control)

    @property
    def contact(self) -> Contact:
        return self.one("contact", Contact)

    def demand(self, port: str = "out") -> Demand:
        """All loads at an output together."""
        found = self.seen(port)
        if not found:
            raise Open(f"{self.id}.{port}")
        return Demand.sum(found)

    def attached(self, port: str = "control") -> Attached:
        """All that hangs on a control together; nothing when nothing does."""
        return Attached.sum(self.seen(port))

    def drawn(self, port: str = "out") -> Draw:
        """All that is drawn behind a rail's output."""
        return Draw.sum(self.seen(port))

    def beside(self, port: str) -> Draw:
        """All that is drawn from the same rail by the blocks beside this one."""
        return Draw.sum([f for f in self._flow.beside(self.id, port) if isinstance(f, Draw)])
