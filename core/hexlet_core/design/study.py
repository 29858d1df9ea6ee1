"""A study: one design with one drawer, and everything that is worked out of it, each once.

Every caller takes a study. Studies of the same content are the same object, kept in a small cache.
"""

from __future__ import annotations

import re
from collections import OrderedDict
from collections.abc import Callable, Iterable, Iterator
from contextlib import suppress
from dataclasses import replace
from functools import cached_property
from threading import Lock
from typing import TypeVar

from ..cards import Drawer
from ..circuit.netlist import GROUND, Netlist
from ..circuit.solve import operating_point
from ..errors import HexletError, Problem
from ..quantity import show
from ..stages.contract import Act, Corner, Open, Part, Placed, Probe, Role, Scene, Site, Stage, Watch
from ..stages.contract.scenes import UPSTREAM, Play
from ..stages.contract.stage import Probed, Watched, Windowed
from ..stages.drawing import Drawing, Fold
from ..stages.say.checks import FOLLOWS, RANK, About, Change, Check, Verdict, judged
from ..stages.say.windows import Window
from .channels import channels
from .circuit import acted, actors, drawing, netlist
from .document import SUPPLY, Design
from .flow import Flow
from .judge import beat_checks, card_checks, design_checks

T = TypeVar("T")
S = TypeVar("S", Scene, Play)
KEPT = 64  # studies in the cache
SMALL = 0.125  # heat that an ordinary small resistor does not feel [W]
BRANCH = re.compile(r"^(i|p|state)\(([a-z0-9_]+)(.*)\)$")
PAIR = re.compile(r"^v\(([a-z0-9_]+),([a-z0-9_]+)\)$")


class Study:
    """One design's blocks, facts, parts, circuit, checks and drawing."""

    def __init__(self, design: Design, drawer: Drawer) -> None:
        self.design, self.drawer = design, drawer
        self.flow = Flow(design, drawer)
        self._netlists: dict[Corner, Netlist] = {}

    # --- blocks -------------------------------------------------------------------------------------
    @property
    def order(self) -> tuple[str, ...]:
        """The blocks along the flow."""
        return self.flow.order

    @cached_property
    def pairs(self) -> tuple[tuple[Stage, Site], ...]:
        """Every block with its site, along the flow."""
        return tuple((self.flow.stage(id), self.flow.sites[id]) for id in self.order)

    def of_role(self, role: Role) -> Iterator[tuple[Stage, Site]]:
        return ((stage, site) for stage, site in self.pairs if stage.role == role)

    @cached_property
    def open(self) -> tuple[str, ...]:
        """Ports that something must be joined to before the design is whole."""
        return tuple(self.flow.missing())

    def waiting(self, port: str) -> str:
        """What is missing at an open port, in words."""
        block, _, name = port.partition(".")
        found = self.flow.port((block, name))
        title = self.flow.stage(block).title
        wanted = {"load": "something to switch", "command": "a signal", "control": "a switch"}
        if found.way == "in":
            wanted = {"load": "a switch", "command": "a signal", "control": "a base or gate"}
        elif found.kind == "command":
            return f"{title} leads nowhere yet."
        return f"{title} waits for {wanted.get(found.kind, f'a {found.kind}')}."

    @cached_property
    def problems(self) -> tuple[Problem, ...]:
        """Joins that the ports allow and that make no sense."""
        found: list[Problem] = []
        for stage, site in self.pairs:
            try:
                found += stage.refuse(site)
            except Open:
                continue
        return tuple(found)

    # --- parts --------------------------------------------------------------------------------------
    @cached_property
    def placed(self) -> tuple[tuple[str, str, Placed], ...]:
        """Every part as block, reference and part, along the flow."""
        return tuple((id, self.flow.ref(id, p.local), p) for id in self.order for p in self.flow.parts(id))

    @cached_property
    def actors(self) -> dict[str, Placed]:
        """The parts that a hand or script can pose, by reference."""
        return actors(self.flow)

    @cached_property
    def parts(self) -> tuple[Part, ...]:
        """The parts list."""
        return tuple(self._line(id, ref, p) for id, ref, p in self.placed if p.listed)

    def _line(self, block: str, ref: str, part: Placed) -> Part:
        card = part.card
        stock = self.drawer.count(card.id) if card else 0
        rating = part.rating
        if part.ohms is not None:
            stock = self.drawer.resistors().get(part.ohms, 0)
            watts = self.heat.get(ref, 0.0)
            enough = "0.25 W is enough" if watts < SMALL else "take 0.5 W or more"
            rating = f"{show(watts, 'W', 2)} in it, {enough}"
        return Part(
            block=block,
            local=part.local,
            ref=ref,
            title=part.title,
            value=part.value,
            kind=part.kind,
            rating=rating,
            path=self.flow.sites[block].path(part.field) if part.field else None,
            card=card.id if card else None,
            legs=card.legs if card else ("either", "either") if part.ohms is not None else (),
            face=card.face if card else "",
            stock=stock,
            price=part.price * part.count,
            on_board=part.on_board and not self.design.supply.walled,
            count=part.count,
            package=card.package if card else "",
        )

    @cached_property
    def heat(self) -> dict[str, float]:
        """The most heat in each resistor at rest, whatever the actors do, on the full supply [W]."""
        resistors = [(ref, part) for _, ref, part in self.placed if part.ohms is not None]
        worst = {ref: 0.0 for ref, _ in resistors}
        if self.design.supply.ac:
            return worst
        circuit = self.netlist(Corner(supply=self.design.supply.high))
        legs = {d.name: tuple(d.nodes().values()) for d in circuit.devices}
        for acts in self.combinations:
            try:
                point = operating_point(self.acted(Corner(supply=self.design.supply.high), acts))
            except HexletError:
                continue
            for ref, part in resistors:
                volts = [0.0 if n == GROUND else point[n] for n in legs[ref]]
                watts = (volts[0] - volts[1]) ** 2 / (part.ohms or 1.0)
                worst[ref] = max(worst[ref], watts)
        return worst

    @cached_property
    def combinations(self) -> tuple[tuple[Act, ...], ...]:
        """Every actor idle, and each active in turn."""
        blocks = list(dict.fromkeys(id for id, ref, _ in self.placed if ref in self.actors))
        return ((), *((Act(id, "active"),) for id in blocks))

    # --- circuit ------------------------------------------------------------------------------------
    def netlist(self, corner: Corner) -> Netlist:
        """The circuit at a corner, every actor idle."""
        if corner not in self._netlists:
            self._netlists[corner] = netlist(self.flow, corner)
        return self._netlists[corner]

    def acted(self, corner: Corner, acts: tuple[Act, ...] | list[Act]) -> Netlist:
        """The circuit at a corner with its actors doing something."""
        return acted(self.netlist(corner), self.flow, corner, acts) if acts else self.netlist(corner)

    def signal(self, block: str, name: str) -> str:
        """A quantity in a block's own names as the circuit's: "i(relay.a)" as "i(K1.a)", "gate"
        as "b2.gate".
        """
        if found := BRANCH.match(name):
            return f"{found[1]}({self.flow.ref(block, found[2])}{found[3]})"
        if found := PAIR.match(name):
            a, b = (self.flow.net(block, n) for n in found.groups())
            return a if b == GROUND else f"v({a},{b})"
        return self.flow.net(block, name)

    def word(self, block: str, local: str) -> str:
        """What one of a block's nets is called on the board: "the gate strip", with its part where there are
        several.
        """
        return self.called(self.flow.net(block, local))

    def called(self, net: str) -> str:
        """What one of the circuit's nets is called on the board."""
        if net == GROUND:
            return "the 0 V rail"
        rail = self.design.rail.partition(".")[0]
        if net == self.flow.net(rail, "plus"):
            return "the + rail"
        owner, _, name = net.partition(".")
        if owner == SUPPLY:
            return "the supply's +"
        same = {n for n in self._strips if n.partition(".")[2] == name}
        of = f" of {self.first(owner)}" if len(same) > 1 else ""
        return f"the {name.replace('_', ' ').replace('~', ' ')} strip{of}"

    @cached_property
    def _strips(self) -> frozenset[str]:
        """The circuit's nets that parts are joined to."""
        return frozenset(self.flow.net(id, net) for id, _, p in self.placed for net in p.legs.values())

    def first(self, block: str) -> str:
        """A block's main part, which stands for it."""
        refs = [(ref, part) for id, ref, part in self.placed if id == block]
        active = [ref for ref, part in refs if part.kind not in ("resistor", "capacitor")]
        return active[0] if active else refs[0][0] if refs else block

    # --- scenes, probes, watches --------------------------------------------------------------------
    def scene(self, block: str, id: str) -> Scene | None:
        """A scene by id: the block's own, or that of the nearest one before it that has it."""
        for here in (block, *self._before(block)):
            stage, site = self.flow.stage(here), self.flow.sites[here]
            own = next((s for s in ready(stage.scenes, site) if s.id == id), None)
            if own is not None:
                return self.acted_by(here, own)
        return None

    def acted_by(self, block: str, script: S) -> S:
        """A block's scene or play with its actors named: "upstream" is the nearest one before it."""
        if all(act.who != UPSTREAM for act in script.acts):
            return script
        who = next(
            (
                b
                for b in self._before(block)
                if any(b == id for id, ref, _ in self.placed if ref in self.actors)
            ),
            None,
        )
        named = (replace(a, who=who or UPSTREAM) if a.who == UPSTREAM else a for a in script.acts)
        return replace(script, acts=tuple(a for a in named if a.who != UPSTREAM))

    def _before(self, block: str) -> Iterator[str]:
        """The blocks that lead to a block, nearest first."""
        waiting, known = [block], {block}
        while waiting:
            here = waiting.pop(0)
            for port in self.flow.stage(here).ports():
                if port.way == "in" and port.kind != "rail":
                    for before, _ in self.flow.joined(here, port.name):
                        if before not in known:
                            known.add(before)
                            waiting.append(before)
                            yield before

    @cached_property
    def probes(self) -> tuple[tuple[str, Probe], ...]:
        """Every point worth a meter, with its block. Above the wall there is none."""
        if self.design.supply.walled:
            return ()
        return tuple(
            (site.id, p)
            for stage, site in self.pairs
            if isinstance(stage, Probed)
            for p in ready(stage.probes, site)
        )

    @cached_property
    def watches(self) -> tuple[tuple[str, Watch], ...]:
        """Every quantity worth watching, with its block."""
        return tuple(
            (site.id, w)
            for stage, site in self.pairs
            if isinstance(stage, Watched)
            for w in ready(stage.watches, site)
        )

    # --- what is said -------------------------------------------------------------------------------
    @cached_property
    def windows(self) -> tuple[Window, ...]:
        return tuple(
            w for stage, site in self.pairs if isinstance(stage, Windowed) for w in ready(stage.windows, site)
        )

    def judged(self, block: str) -> tuple[Verdict, ...]:
        """One block's checks judged, in its own order."""
        stage, site = self.flow.stage(block), self.flow.sites[block]
        try:
            checks = (*card_checks(self.flow, block), *stage.checks(site), *beat_checks(self.flow, block))
            return tuple(judged(c, block, stage.facet, self.unasked(block, c)) for c in checks)
        except Open:
            return ()

    def about(self, block: str, about: About) -> Verdict | None:
        """The first of one block's checks about something, judged; what comes after it is not worked out."""
        stage, site = self.flow.stage(block), self.flow.sites[block]
        with suppress(Open):
            for check in stage.checks(site):
                if check.about == about:
                    return judged(check, block, stage.facet, self.unasked(block, check))
        return None

    def unasked(self, block: str, check: Check) -> Change | None:
        """The change that asks for a wish that nobody has: its value is the kind's own and has no origin."""
        if not check.wish:
            return None
        stage, path = self.flow.stage(block), self.flow.sites[block].path(check.wish)
        usual = type(stage).model_fields[check.wish].default
        if getattr(stage, check.wish) != usual or path in self.design.origins:
            return None
        return Change(path=f"origins.{path}", value="wanted")

    @cached_property
    def verdicts(self) -> tuple[Verdict, ...]:
        """Every check judged, worst first; what follows from another says so."""
        found = [judged(c, "", "build") for c in design_checks(self.flow)]
        for block in self.order:
            found += self.judged(block)
        found.sort(key=lambda v: (RANK[v.standing], v.left))
        return tuple(self._caused(found))

    def _caused(self, found: list[Verdict]) -> Iterator[Verdict]:
        """A failing check that another failing one brings about names it as its cause; so does good practice
        that misses the very thing that is needed.
        """
        wrong = [v for v in found if v.standing in ("fails", "tight")]
        for verdict in found:
            cause = next((v.id for v in wrong if verdict in wrong and self._brings(v, verdict)), None)
            yield verdict.model_copy(update={"cause": cause}) if cause else verdict

    def _brings(self, cause: Verdict, verdict: Verdict) -> bool:
        """Whether what one verdict tells brings about what another tells."""
        if verdict.sort == "practice" and cause.sort != "practice" and cause.about == verdict.about:
            return cause.block == verdict.block
        follows = cause.about in FOLLOWS.get(verdict.about, ())
        return cause.standing == "fails" and follows and self._near(cause.block, verdict.block)

    def _near(self, a: str, b: str) -> bool:
        """Whether two blocks are one, or lie on one load's line."""
        return a == b or b in self.behind(a)

    def behind(self, block: str) -> set[str]:
        """The blocks that a block's outputs lead to."""
        found: set[str] = set()
        waiting = [block]
        while waiting:
            here = waiting.pop()
            if here not in self.design.blocks:
                continue
            for port in self.flow.stage(here).ports():
                if port.way == "out" and port.kind != "rail":
                    for after, _ in self.flow.joined(here, port.name):
                        if after not in found:
                            found.add(after)
                            waiting.append(after)
        return found

    @cached_property
    def drawing(self) -> Drawing:
        """The schematic."""
        return drawing(self.flow)

    def folded(self, channel: int) -> Drawing:
        """The schematic with one of several channels open and the others folded; 0 opens all."""
        every = channels(self.design)
        shut = [c for c in every if c.number != channel]
        if self.open or channel == 0 or len(shut) == len(every):
            return self.drawing
        folds = {
            c.port: Fold(number=c.number, title=c.title, value=c.value, lane=f"{c.load}.current")
            for c in shut
        }
        return drawing(self.flow, folds, {b for c in shut for b in c.blocks})


def ready(method: Callable[[Site], Iterable[T]], site: Site) -> tuple[T, ...]:
    """What a block says, or nothing while it waits for a port."""
    try:
        return tuple(method(site))
    except Open:
        return ()


_studies: OrderedDict[tuple[str, str], Study] = OrderedDict()
_lock = Lock()


def study(design: Design, drawer: Drawer | None = None) -> Study:
    """The study of a design with a drawer; the same content gives the same object."""
    drawer = drawer or Drawer()
    key = (design.model_dump_json(), drawer.stamp)
    with _lock:
        found = _studies.get(key)
        if found is None:
            found = _studies[key] = Study(design, drawer)
        _studies.move_to_end(key)
        if len(_studies) > KEPT:
            _studies.popitem(last=False)
    return found
