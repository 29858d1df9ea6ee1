"""How far building and proving have come, and the next thing to do."""

from __future__ import annotations

from collections.abc import Collection, Mapping, Sequence
from typing import Literal

from ..design.evaluate import Evaluation, FacetState
from ..fields import Document
from ..quantity import show
from ..stages.contract import Step
from .expect import Expected, Judged, judged


class Taken(Document):
    """A reading as it was taken; `at` is its time, ISO 8601."""

    value: float | None = None
    over_range: bool = False
    skipped: bool = False
    at: str = ""


class Rung(Document):
    """One reading of the ladder with what was read."""

    expected: Expected
    taken: Taken | None
    judged: Judged | None
    text: str
    place: float | None  # 0 at the band's low end, 1 at its high end


class Progress(Document):
    """Facets with building and proving counted in, the ladder, and what comes next."""

    facets: tuple[FacetState, ...]
    rungs: tuple[Rung, ...]
    built: int
    steps: int
    inside: int
    outside: int
    left: int
    next_facet: str
    next_text: str
    next_do: str


def _rung(expected: Expected, taken: Taken | None) -> Rung:
    if taken is None or taken.skipped:
        return Rung(expected=expected, taken=taken, judged=None, text="skipped" if taken else "", place=None)
    verdict = judged(expected, taken.value, taken.over_range)
    if taken.value is None:
        return Rung(expected=expected, taken=taken, judged=verdict, text="OL", place=None)
    span = max(expected.high - expected.low, 1e-12)
    text = show(taken.value, expected.unit, 4)
    return Rung(
        expected=expected, taken=taken, judged=verdict, text=text, place=(taken.value - expected.low) / span
    )


def progress(
    evaluation: Evaluation,
    steps: Sequence[Step],
    done: Collection[str],
    expected: Sequence[Expected],
    taken: Mapping[str, Taken],
) -> Progress:
    """Count steps and readings into the facets' standings."""
    rungs = tuple(_rung(e, taken.get(e.id)) for e in expected)
    outside = sum(r.judged is not None and r.judged.standing == "outside" for r in rungs)
    inside = sum(r.judged is not None and r.judged.standing == "inside" for r in rungs)
    left = len(rungs) - inside - outside
    built = sum(s.id in done for s in steps)
    build_fails = next(f.standing for f in evaluation.facets if f.facet == "build") == "fails"
    build: Literal["fails", "proven", "unknown"] = (
        "fails" if build_fails else "proven" if steps and built == len(steps) else "unknown"
    )
    prove: Literal["fails", "proven", "unknown"] = (
        "fails" if outside else "proven" if rungs and left == 0 else "unknown"
    )
    words = {
        "build": f"{built} of {len(steps)} done"
        if built
        else f"{len(steps)} steps to do"
        if steps
        else "No build plan",
        "prove": f"{outside} of {len(rungs)} outside"
        if outside
        else f"{inside} of {len(rungs)} inside"
        if inside
        else f"{len(rungs)} readings to take",
    }
    standings = {"build": build, "prove": prove}
    facets = tuple(
        f.model_copy(update={"standing": standings[f.facet], "summary": words[f.facet]})
        if f.facet in words
        else f
        for f in evaluation.facets
    )
    worst = (
        evaluation.verdicts[0] if evaluation.verdicts and evaluation.verdicts[0].standing == "fails" else None
    )
    pending = next((s for s in steps if s.id not in done), None)
    first = next((r for r in rungs if r.judged is None), None)
    if worst is not None:
        where, text, do = (
            worst.facet,
            f"{worst.title}: {worst.sentence}",
            worst.remedy.text if worst.remedy and worst.remedy.changes else "See why",
        )
    elif outside:
        bad = next(r for r in rungs if r.judged is not None and r.judged.standing == "outside")
        where, text, do = (
            "prove",
            (
                f"{bad.expected.probe.title}, {bad.expected.words}: {bad.text}, "
                f"{bad.judged.text if bad.judged else ''}."
            ),
            "Read it again",
        )
    elif pending is not None:
        where, text, do = (
            "build",
            f"Step {steps.index(pending) + 1} of {len(steps)}: {pending.title}.",
            "Carry on" if built else "Start building",
        )
    elif first is not None:
        where, text, do = (
            "prove",
            f"{left} readings left. Next: {first.expected.probe.title}, {first.expected.words}.",
            "Take readings",
        )
    else:
        where, text, do = "prove", "Nothing. Built and proven.", "Look at it"
    return Progress(
        facets=facets,
        rungs=rungs,
        built=built,
        steps=len(steps),
        inside=inside,
        outside=outside,
        left=left,
        next_facet=where,
        next_text=text,
        next_do=do,
    )
