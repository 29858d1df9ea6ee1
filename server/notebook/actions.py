"""What is done at the bench: steps ticked, readings taken, undone, retaken."""

from __future__ import annotations

from django.db import transaction
from django.db.models import F
from hexlet_core.build.keeping import carried
from hexlet_core.build.layout import BoardPlan, read_plan
from hexlet_core.fields import Q
from hexlet_core.prove.progress import Taken
from hexlet_core.quantity import parse
from workshop.models import Design

from .models import BenchRun, KeptPlan, Reading, StepDone

PLANS = 40  # plans of a design that can be gone back to
LARGEST_READING = 1e4  # what any bench meter could show


def mark(design: Design) -> None:
    """Note that something was noted: what the shelf shows of the design follows it."""
    Design.objects.filter(pk=design.pk).update(marked=F("marked") + 1)


def current_run(design: Design) -> BenchRun | None:
    """The newest run on the revision in force."""
    return design.runs.filter(revision=design.current).first()


@transaction.atomic
def start_run(design: Design, supply: float | None) -> BenchRun:
    """The run on the revision in force, begun when there is none; `supply` is noted on it."""
    run = current_run(design) or BenchRun.objects.create(design=design, revision=design.revision)
    if supply is not None:
        run.supply = supply
        run.save()
    mark(design)
    return run


@transaction.atomic
def read(design: Design, rung: str, text: str, unit: str, *, over_range: bool, skipped: bool) -> Reading:
    """Note a reading.

    Raises: EntryError at field "reading".
    """
    value = None
    if not over_range and not skipped:
        value = parse(text, unit, "reading")
        Q(unit, -LARGEST_READING, LARGEST_READING).check(value, text, "reading")
    return Reading.objects.create(
        run=start_run(design, None), rung=rung, value=value, over_range=over_range, skipped=skipped
    )


@transaction.atomic
def undo_reading(design: Design) -> None:
    """Take back the newest reading; what it replaced counts again."""
    run = current_run(design)
    last = run.readings.filter(undone=False).last() if run else None
    if last is not None:
        last.undone = True
        last.save()
        mark(design)


def taken(run: BenchRun | None) -> dict[str, Taken]:
    """The readings that count, by rung."""
    if run is None:
        return {}
    return {
        r.rung: Taken(value=r.value, over_range=r.over_range, skipped=r.skipped, at=r.taken.isoformat())
        for r in run.readings.filter(undone=False)
    }


@transaction.atomic
def tick(design: Design, step: str, done: bool) -> None:
    """Mark a build step done or not."""
    if done:
        StepDone.objects.get_or_create(design=design, step=step)
    else:
        design.steps_done.filter(step=step).delete()
    mark(design)


def kept_plan(design: Design) -> BoardPlan | None:
    """The plan that the design is built by."""
    row = design.plans.first()
    return read_plan(row.plan) if row is not None else None


@transaction.atomic
def keep_plan(design: Design, plan: BoardPlan) -> None:
    """Build by a plan from now on: what has to move for it is not done any more."""
    done = set(design.steps_done.values_list("step", flat=True))
    plan, undone = carried(kept_plan(design), plan, done)
    undone &= done
    design.steps_done.filter(step__in=undone).delete()
    KeptPlan.objects.create(design=design, plan=plan.model_dump(mode="json"), undone_steps=sorted(undone))
    for old in design.plans.all()[PLANS:]:
        old.delete()
    mark(design)


@transaction.atomic
def undo_plan(design: Design) -> None:
    """Go back to the plan before, with the steps that keeping the newest took back."""
    last = design.plans.first()
    if last is None:
        return
    for step in last.undone_steps:
        StepDone.objects.get_or_create(design=design, step=step)
    last.delete()
    mark(design)


@transaction.atomic
def drop_plans(design: Design) -> None:
    """Plan anew from nothing."""
    design.plans.all().delete()
    mark(design)


def supply_reading(text: str) -> float:
    """What the supply reads, as typed [V].

    Raises: EntryError at field "supply".
    """
    value = parse(text, "V", "supply")
    Q("V", 0.5, 400.0).check(value, text, "supply")
    return value
