"""The plan of a board, better step by step: one at once, then with fewer wires until none fewer is possible,
then neater.

Every step is deterministic: one thread, effort counted and not timed. A plan is shown only when it is proven.
"""

from __future__ import annotations

from collections.abc import Iterable, Iterator, Sequence
from dataclasses import dataclass, replace

from ..design.study import Study
from ..errors import Problem
from .boards import OWNED, Board
from .bodies import BoardPart, Leg, Wanted, wanted
from .greedy import Full, boards_for, grounds
from .keeping import same_wires
from .layout import BoardPlan, Placing, meetings
from .neatness import neat
from .proof import cells, proof
from .repeated import Channels, repeated, side_by_side
from .rough import MARGIN, Ground, Rough, slid
from .rows import seated
from .search import Solved, fewer, fewest, neatest, searched
from .strips import Model
from .view import PlanStep, Stage, refreshed, same_legs, viewed

MANY = 30  # parts, above which a plan is bettered by the dozen
ALIKE = 0.2  # of each search for a channel by itself, and for the rest round it
DOZEN, ROUNDS, PART = 12, 8, 0.03  # parts at a time, rounds, and deterministic time of each
SHOWN = 8  # of how many neater plans one is shown: a map that jumps about cannot be read
FEWER = (0.3, 0.4)  # deterministic time of each search for fewer wires, from a seed of its own
BOUND = 0.5  # of the search that raises the bound
NEAT = 0.7  # of the search for a neater plan with as many wires
SHARE: dict[Stage, float] = {"first": 0.1, "fewer": 0.5, "bound": 0.7, "neat": 1.0}


@dataclass
class _Best:
    rough: Rough
    plan: BoardPlan
    bound: int = 0
    solution: Sequence[int] = ()  # the same as the model has it

    @property
    def proven(self) -> bool:
        return self.bound >= self.rough.links


class Planner:
    """One design's plan on the boards somebody owns.

    What is `kept` stays where it is as far as it can; `stays` are the parts that are built already or that
    somebody put there, and move last.
    """

    def __init__(
        self,
        here: Study,
        owned: tuple[Board, ...] = OWNED,
        kept: BoardPlan | None = None,
        stays: frozenset[str] = frozenset(),
    ) -> None:
        self.here, self.what, self.owned = here, wanted(here), owned
        self.kept, self.stays = kept, stays
        self.pins: dict[str, Placing] = {}
        self.stamps: frozenset[str] = frozenset()  # parts of channels that are laid out alike
        self.alike: tuple[Channels, ...] = repeated(here, self.what.bodies)

    def steps(self) -> Iterator[PlanStep]:
        """Every better plan, and at last the best with what is known of it."""
        if self.what.problems or not (self.what.bodies or self.what.joints):
            yield PlanStep(stage="none", done=1.0, problems=self.what.problems)
            return
        if not self.what.bodies:  # all of it is wired beside the board
            bare = BoardPlan(boards=self.owned[:1], placings=(), meetings=meetings(self.what))
            self.best = _Best(Rough({}, {}), bare)
            yield self._told("kept", 1.0)
            return
        try:
            if self.kept is not None:
                yield from self._around(self.kept)
                return
            self.ground, rough = boards_for(self.what, self.owned)
        except Full as full:
            yield PlanStep(stage="none", done=1.0, problems=(_no_room(full, self.owned),))
            return
        plan = self._seated(rough)
        if plan is None:
            raise AssertionError("a first plan keeps room for its wires")
        self.best = _Best(rough, plan)
        yield self._told("first")
        yield from self._fewer()
        if len(self._parts()) <= MANY:  # above, the search would find nothing in its time
            yield from self._neater()
        yield self._told("neat")

    def _seated(self, rough: Rough) -> BoardPlan | None:
        return seated(rough, self.what, self.ground, self.pins, self.alike)

    def _told(self, stage: Stage, done: float = 0.0) -> PlanStep:
        best = self.best
        links, bound = len(best.plan.links), min(best.bound, len(best.plan.links))
        known = "none fewer is possible" if bound == links else f"{bound} is the fewest there can be"
        known += ", channels alike" if self.alike and stage != "first" else ""
        if stage in ("kept", "around"):
            known = "round what was placed"
        elif stage in ("first", "fewer") and bound < links:
            known = "looking for fewer"
        return PlanStep(
            stage=stage,
            done=done or SHARE[stage],
            view=viewed(self.here, best.plan),
            links=links,
            bound=bound,
            says=f"{links} {'wire' if links == 1 else 'wires'}, {known}.",
        )

    # --- round what is there ------------------------------------------------------------------------------
    def _around(self, kept: BoardPlan) -> Iterator[PlanStep]:
        """The kept plan where it still holds; else everything where it was but what has to move."""
        self.ground = Ground(kept.boards)
        known = {k: p for k, p in kept.of.items() if k in self.what.of and same_legs(p, self.what.of[k])}
        self.pins = known
        if known.keys() == self.what.of.keys():
            same = refreshed(kept, self.what)
            if not proof(same, self.what):
                self.best = _Best(Rough({}, {}), same)
                yield self._told("kept", 1.0)
                return
        rough = self._solved(known) or self._solved({k: p for k, p in known.items() if k in self.stays})
        if rough is None:
            rough = self._loosened({k: p for k, p in known.items() if k in self.stays})
        plan = self._seated(rough)
        if plan is None:
            raise Full(self.what.bodies[-1])
        self.best = _Best(rough, same_wires(plan, kept).model_copy(update={"pinned": kept.pinned}))
        yield self._told("around", 1.0)

    def _solved(self, pins: dict[str, Placing], effort: float = FEWER[0]) -> Rough | None:
        """The fewest wires with some parts where they are; None where that cannot be."""
        self.pins = pins
        return fewest(Model(self.what, self.ground, pins), effort)

    def _loosened(self, pins: dict[str, Placing]) -> Rough:
        """As few parts moved as can be: those nearest to what is new first, then each tried where it was."""
        order = self._nearest(pins)
        count = 1
        while (rough := self._solved({k: p for k, p in pins.items() if k not in order[:count]})) is None:
            if count >= len(order):
                raise Full(self.what.bodies[-1])
            count *= 2
        loose = order[:count]
        for key in reversed(loose.copy()):
            trial = {k: p for k, p in pins.items() if k not in loose or k == key}
            found = self._solved(trial)
            if found is not None:
                rough, loose = found, [k for k in loose if k != key]
        self.pins = {k: p for k, p in pins.items() if k not in loose}
        return rough

    def _nearest(self, pins: dict[str, Placing]) -> list[str]:
        """The pinned parts, those first that share nets with what is not pinned."""
        new = {n for b in self.what.bodies if b.key not in pins for n in b.nets} - set(self.what.polarity)
        return sorted(pins, key=lambda k: -len(self.what.of[k].nets & new))

    # --- searches ---------------------------------------------------------------------------------------
    def _fewer(self) -> Iterator[PlanStep]:
        """Fewer wires, from several seeds; then how few there can be."""
        if self.alike:
            yield from self._repeated()
        if len(self._parts()) > MANY:
            yield from self._by_the_dozen()
        for seed, effort in enumerate(FEWER if len(self._parts()) <= MANY else ()):
            model = self._model()
            model.m.minimize(model.links)
            self._begin(model)
            if seed:
                model.m.add(model.links < self.best.rough.links)
            for found in searched(model, effort, self.best.rough.links, random_seed=seed + 1):
                self._bounded(model, found)
                if self._take(found):
                    yield self._told("fewer", SHARE["first"] + 0.2 * (seed + 1))
            if self.best.proven:
                return
        yield from self._bounds()

    def _bounds(self) -> Iterator[PlanStep]:
        """How few wires there can be."""
        model = self._model()
        model.m.minimize(model.links)
        model.m.add(model.links <= self.best.rough.links)
        for found in searched(model, BOUND, self.best.rough.links, optimize_with_core=True):
            self._bounded(model, found)
            self._take(found)
        yield self._told("bound")

    def _model(self) -> Model:
        return Model(self.what, self.ground, alike=self.alike)

    def _begin(self, model: Model) -> None:
        if self.best.solution:
            model.begin_at(self.best.solution)
        else:
            model.begin_near(self.best.rough)

    def _repeated(self) -> Iterator[PlanStep]:
        """Channels laid out alike: one is planned alone and stamped beside itself, the rest round them. Where
        the boards have no room for that, they are not alike.
        """
        ones = [self._alone(channels[0]) for channels in self.alike]
        for ground in grounds(self.owned):
            pins = side_by_side(self.alike, [one for one in ones if one], self.what, ground)
            if pins is None or len(pins) < sum(len(keys) for c in self.alike for keys in c):
                continue
            self.ground = ground
            found = self._solved(pins, ALIKE)
            plan = self._seated(found) if found is not None else None
            self.pins = {}
            if found is not None and plan is not None and not proof(plan, self.what):
                self.best, self.stamps = _Best(found, plan), frozenset(pins)
                yield self._told("fewer")
                return
        self.alike = ()

    def _alone(self, keys: tuple[str, ...]) -> tuple[dict[str, Placing], int] | None:
        """A channel planned by itself, with seats kept for what joins it to the rest; and how wide it is."""
        own = [self.what.of[k] for k in keys]
        nets = {n for b in own for n in b.nets} - set(self.what.polarity)
        outside = [b for b in self.what.bodies if b.key not in keys]
        led = [replace(b, legs=tuple(x for x in b.legs if x.net in nets)) for b in outside]
        joins = {n for n in nets if any(n in b.nets for b in outside if b.shape != "leads")}
        kept = [
            BoardPart(f"join {n} {k}", n, "", "joined", "leads", (Leg("a", n),))
            for n in sorted(joins)
            for k in (0, 1)
        ]
        leads = [b for b in led if b.shape == "leads" and b.legs]
        what, ground = Wanted((*own, *leads, *kept), self.what.rails), Ground((Board(positions=63),))
        found = fewest(Model(what, ground), ALIKE)
        if found is None:
            return None
        plan = seated(slid(neatest(Model(what, ground), found, ALIKE), ground), what, ground)
        if plan is None:
            return None
        columns = [x.seat.column for p in plan.placings for x in p.legs if not x.seat.rail]
        columns += [c for p in plan.placings for _, c, _ in cells(p)]
        return {k: plan.of[k] for k in keys}, max(columns) - MARGIN + 2

    def _parts(self) -> list[str]:
        """What sits on the board, in the order in which it is built."""
        return [b.key for b in self.what.bodies if b.shape != "leads"]

    def _by_the_dozen(self) -> Iterator[PlanStep]:
        """A large board a dozen parts at a time, the others where they are: along the order in which they are
        built, then those of one net together, until a round betters nothing.
        """
        for turn in range(ROUNDS):
            before = self.best.rough.links
            for k, free in enumerate(self._dozens(turn)):
                plan = self.best.plan
                pins = {p: x for p, x in plan.of.items() if p not in free or p in self.stamps}
                self.pins = pins
                found = fewer(Model(self.what, self.ground, pins), self.best.rough, PART)
                if found is not None:
                    then = self._seated(found)
                    if then is not None and not proof(then, self.what):
                        self.best.rough, self.best.plan = found, then
                        yield self._told(
                            "fewer", SHARE["first"] + 0.4 * (turn + (k % DOZEN) / DOZEN) / ROUNDS
                        )
            if self.best.rough.links == before and turn % 2:
                break
        self.pins = {}

    def _dozens(self, turn: int) -> Iterator[set[str]]:
        """Groups of parts to be placed anew together, with the leads of their nets."""
        parts = self._parts()
        of = self.what.of
        if turn % 2 == 0:
            groups = [parts[k : k + DOZEN] for k in range(0, len(parts), DOZEN // 2)]
        else:
            at = {
                k: min(leg.seat.column for leg in p.legs) for k, p in self.best.plan.of.items() if k in parts
            }
            along = sorted(parts, key=lambda k: at[k])
            groups = [along[k : k + DOZEN] for k in range(0, len(along), DOZEN // 2)]
        for group in groups:
            nets = {n for k in group for n in of[k].nets} - set(self.what.polarity)
            leads = {b.key for b in self.what.bodies if b.shape == "leads" and b.nets & nets}
            yield set(group) | leads

    def _bounded(self, model: Model, found: Solved) -> None:
        self.best.bound = max(self.best.bound, min(found.bound, model.outside))

    def _take(self, found: Solved, neater: bool = False) -> bool:
        """Keep a plan that is better, and that has a seat for every leg."""
        rough = found.rough
        if rough is None or (not neater and rough.links >= self.best.rough.links):
            return False
        plan = self._seated(slid(rough, self.ground))
        if plan is None or proof(plan, self.what):
            return False
        self.best = _Best(rough, plan, self.best.bound, found.solution)
        return True

    def _neater(self) -> Iterator[PlanStep]:
        """As many wires, and pleasanter."""
        model = self._model()
        model.m.add(model.links <= self.best.rough.links)
        model.m.minimize(neat(model))
        self._begin(model)
        for k, found in enumerate(searched(model, NEAT, 0, linearization_level=1)):
            if self._take(found, neater=True) and k % SHOWN == 0:
                yield self._told("neat", 0.8)


def _no_room(full: Full, owned: tuple[Board, ...]) -> Problem:
    boards = " and ".join(f"one of {b.positions}" for b in owned)
    return Problem(
        full.body.path,
        f"{full.body.ref} finds no room: the boards you own ({boards} positions) are full. Add a board, or "
        "take a part off the design.",
    )


def planned(
    here: Study, owned: tuple[Board, ...] = OWNED, kept: BoardPlan | None = None, stays: Iterable[str] = ()
) -> Iterator[PlanStep]:
    """The plans of a design's board, each better than the one before; or the kept one, mended."""
    return Planner(here, owned, kept, frozenset(stays)).steps()
