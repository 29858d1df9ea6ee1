"""mends(study, verdict): what would mend a failing check, ranked, and what was tried and does not.

Tried: what the check itself says, a value its window suggests, all values of one block, another part card,
another school of a guard, another guard, another drive. Givens are facts and are never changed. A mend lets
nothing else fail.
"""

from __future__ import annotations

from collections import Counter
from collections.abc import Iterator
from typing import NamedTuple

from ..errors import HexletError
from ..fields import Document
from ..quantity import show
from ..stages.contract import Open
from ..stages.contract.stage import Schooled
from ..stages.say.checks import RANK, Change, Standing, Verdict
from .choose import card_fields, with_card
from .document import Design
from .exchange import guards, offers, sized, tried
from .study import Study

MOST = 5  # mends that are told
FAILED = 2  # of what does not mend it, told


class Mend(Document):
    """One thing to do: in words, with the changes that do it.

    `sentence`, `used` and `used_worst` are the mended check's own afterwards; `cures` counts the checks that
    follow from it and are mended too. `stock` is the least count in the drawer of what is new; None where
    nothing is.
    """

    text: str
    changes: tuple[Change, ...]
    standing: Standing
    sentence: str
    margin: str
    used: float
    used_worst: float
    cures: int
    stock: int | None


class Useless(Document):
    """What does not mend it alone, and how much is missing then."""

    text: str
    margin: str


class Mends(Document):
    """What mends a check, the best first; how many checks follow from it; and what does not mend it."""

    mends: tuple[Mend, ...]
    follow: int
    useless: tuple[Useless, ...] = ()


def _stage_change(design: Design, block: str) -> Change:
    return Change(path=f"blocks.{block}", value=design.blocks[block].model_dump(mode="json"))


class Trial(NamedTuple):
    """Something to try. `exchanges` a drive: then it comes last; `unless` is the simpler one that, where it
    mends, makes this one needless.
    """

    text: str
    changes: tuple[Change, ...]
    exchanges: bool = False
    unless: str = ""


def _trials(here: Study) -> Iterator[Trial]:
    """What could be tried, the simplest first: a value, a part, another way, a guard, another drive."""
    yield from _values(here)
    yield from _cards(here)
    yield from _ways(here)
    yield from (Trial(f"{g.title} added", g.changes) for g in guards(here) if not g.in_use)
    for block in here.design.of_role("drive"):
        for offer in offers(here, block):
            if not offer.in_use and offer.standing != "fails":
                text = f"{offer.title} in place of {here.design.blocks[block].title}"
                yield Trial(text, offer.changes, exchanges=True)


def _values(here: Study) -> Iterator[Trial]:
    for found in here.windows:
        if found.suggested is not None and found.suggested != found.present:
            value = show(found.suggested, found.unit)
            new = found.present is None
            text = f"{found.title.capitalize()} of {value}" if new else f"{found.ref} {value}"
            yield Trial(text, (Change(path=found.path, value=found.suggested),))
    for block in here.design.of_role("drive"):
        trial = sized(here.design, block, here.drawer)
        yield Trial("every resistor of the drive sized anew", (_stage_change(trial, block),))


def _cards(here: Study) -> Iterator[Trial]:
    design, drawer = here.design, here.drawer
    cards = [
        (block, field, card)
        for block, field, kind in card_fields(design)
        if design.blocks[block].role != "signal"
        for card in drawer.of(kind)
        if getattr(design.blocks[block], field) != card.id
    ]
    for block, field, card in sorted(cards, key=lambda c: (drawer.count(c[2].id) == 0, c[2].price)):
        yield Trial(card.title, (Change(path=f"blocks.{block}.{field}", value=card.id),))
        if design.blocks[block].role == "drive":
            trial = sized(with_card(design, block, field, card.id), block, drawer)
            text = f"{card.title}, its resistors sized for it"
            yield Trial(text, (_stage_change(trial, block),), unless=card.title)


def _ways(here: Study) -> Iterator[Trial]:
    for stage, site in here.pairs:
        if isinstance(stage, Schooled):
            for way in stage.ways(site):
                if way.offered and getattr(stage, way.field) != way.value:
                    yield Trial(way.title, (Change(path=site.path(way.field), value=way.value),))


def _after(here: Study, changes: tuple[Change, ...]) -> Study | None:
    """The design with a trial's changes, worked out; None where it is refused or no longer whole."""
    then = tried(here, changes)
    try:
        return None if then is None or then.open or not then.verdicts else then
    except (HexletError, Open):
        return None


def _stock(here: Study, then: Study) -> int | None:
    """The least count in the drawer of the parts that a trial brings in."""

    def needed(study: Study) -> Counter[tuple[str, float | None]]:
        return Counter(
            (p.card.id if p.card else p.value, p.ohms) for _, _, p in study.placed if p.card or p.ohms
        )

    fresh = needed(then) - needed(here)
    resistors = here.drawer.resistors()
    counts = [resistors.get(ohms, 0) if ohms is not None else here.drawer.count(card) for card, ohms in fresh]
    return min(counts, default=None)


def mends(here: Study, verdict: str, most: int = MOST) -> Mends:
    """What makes a verdict pass and lets no other one fail: another drive last, from the drawer first, then
    by what it leaves.
    """
    before = {v.id: v for v in here.verdicts}
    was = before.get(verdict)
    if was is None or was.standing not in ("fails", "tight"):
        return Mends(mends=(), follow=0)
    broken = {i for i, v in before.items() if v.standing == "fails"}
    follow = [v.id for v in here.verdicts if v.cause == verdict]
    found: list[tuple[Trial, Mend]] = []
    useless: list[Useless] = []
    own = (Trial(r.text, r.changes),) if (r := was.remedy) is not None and r.changes else ()
    for trial in (*own, *_trials(here)):
        done = {t.text for t, _ in found}
        then = None if {trial.text, trial.unless} & done else _after(here, trial.changes)
        if then is None:
            continue
        after = {v.id: v for v in then.verdicts}
        now = {i for i, v in after.items() if v.standing == "fails"}
        if not now <= broken:
            continue
        mine = after.get(verdict)
        if _better(was, mine):
            cures = sum(after[i].standing != "fails" if i in after else True for i in follow)
            found.append((trial, _mend(trial.text, trial.changes, mine, cures, _stock(here, then))))
        elif mine is not None and abs(mine.used - was.used) > 0.01 * was.used:
            useless.append(Useless(text=trial.text, margin=mine.margin))
    found.sort(
        key=lambda f: (f[1].cures < len(follow), f[0].exchanges, f[1].stock == 0, -RANK[f[1].standing])
    )
    return Mends(
        mends=tuple(mend for _, mend in found[:most]), follow=len(follow), useless=tuple(useless[:FAILED])
    )


def _better(was: Verdict, now: Verdict | None) -> bool:
    """Whether a check that failed does not any more, or one that was tight fits; gone is mended, too."""
    if now is None:
        return True
    return now.standing != "fails" if was.standing == "fails" else now.standing == "fits"


def _mend(text: str, changes: tuple[Change, ...], now: Verdict | None, cures: int, stock: int | None) -> Mend:
    if now is None:
        sentence = "Nothing is left that could fail so."
        return Mend(
            text=text,
            changes=changes,
            standing="fits",
            sentence=sentence,
            margin="gone",
            used=0.0,
            used_worst=0.0,
            cures=cures,
            stock=stock,
        )
    return Mend(
        text=text,
        changes=changes,
        standing=now.standing,
        sentence=now.sentence,
        margin=now.margin,
        used=now.used,
        used_worst=now.used_worst,
        cures=cures,
        stock=stock,
    )
