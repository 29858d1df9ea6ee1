"""What the shelf shows of each design, kept beside it and worked out apart from the requests.

A row follows from the sources, the revision in force, the own cards and what was done at the bench: their key
is kept with it. The shelf answers with what it has; a row whose key has changed is shown as it was and worked
out anew by one thread. A design that cannot be worked out is a row that says so.
"""

from __future__ import annotations

import hashlib
import logging
import time
from collections.abc import Iterable
from threading import Condition, Thread
from uuid import UUID

from django.conf import settings
from django.db import Error, IntegrityError, close_old_connections
from drawer.actions import drawer
from hexlet_core.design.evaluate import FACETS, FacetState
from hexlet_core.design.study import study
from hexlet_core.errors import HexletError
from hexlet_core.sources import digest
from notebook.actions import current_run
from workshop.actions import document_of
from workshop.models import Design, Standing

from .bench import bench_of, own_cards
from .schemas import LastReading, ShelfRow

log = logging.getLogger(__name__)
BREATH = 0.3  # the longest pause between two rows [s]


def rows(designs: Iterable[Design]) -> list[ShelfRow]:
    """A row a design, as it is known; those that are not are asked for."""
    cards, found = own_cards(drawer()), []
    for design in designs:
        kept = getattr(design, "standing", None)
        fresh = kept is not None and kept.key == _key(design, cards)
        if not fresh and settings.STANDINGS_AT_ONCE:
            kept, fresh = work_out(design), True
        if not fresh:
            _asked.add(design.id)
        row = ShelfRow.model_validate(kept.row) if kept is not None else _blank(design)
        found.append(
            row.model_copy(update={"name": design.name, "touched": design.touched, "pending": not fresh})
        )
    return found


def work_out(design: Design) -> Standing:
    """One design's row, kept."""
    key = _key(design, own_cards(drawer()))
    try:
        row = _row(design)
    except HexletError as error:
        row = _broken(design, str(error.problems[0]))
    except Exception:
        log.exception("The shelf cannot work out %s.", design.id)
        row = _broken(design, "Something in it is not understood. Undo its last change, or export it.")
    known = {"key": key, "row": row.model_dump(mode="json")}
    try:
        return Standing.objects.update_or_create(design=design, defaults=known)[0]
    except IntegrityError:  # the design is gone meanwhile
        return Standing(design=design, **known)


def _key(design: Design, cards: str) -> str:
    text = f"{digest()} {design.current_id} {design.marked} {cards}"
    return hashlib.sha256(text.encode()).hexdigest()


def _row(design: Design) -> ShelfRow:
    document = document_of(design)
    bench = bench_of(design, document)
    run = current_run(design)
    last = None
    newest = run.readings.filter(undone=False, skipped=False).last() if run else None
    if newest is not None:
        rung = next((r for r in bench.progress.rungs if r.expected.id == newest.rung), None)
        if rung is not None:
            last = LastReading(
                text=rung.text,
                where=f"{rung.expected.probe.title}, {rung.expected.words}",
                standing=rung.judged.standing if rung.judged else None,
                place=rung.place,
                taken=newest.taken,
            )
    here = study(document, drawer())
    blocks = [here.flow.stage(id) for id in here.order]
    path = " › ".join(s.title if s.role == "drive" else s.summary for s in blocks if s.role != "guard")
    progress = bench.progress
    return ShelfRow(
        id=design.id,
        name=design.name,
        path=path,
        facets=list(progress.facets),
        next_facet=progress.next_facet,
        next_text=progress.next_text,
        next_do=progress.next_do,
        last=last,
        touched=design.touched,
    )


def _blank(design: Design) -> ShelfRow:
    """A row of which nothing is known yet."""
    return ShelfRow(
        id=design.id,
        name=design.name,
        path="",
        facets=[FacetState(facet=f, standing="unknown", summary="") for f in FACETS],
        next_facet="drive",
        next_text="",
        next_do="Open it",
        last=None,
        touched=design.touched,
    )


def _broken(design: Design, problem: str) -> ShelfRow:
    more = {"path": "Cannot be worked out", "next_text": problem, "problem": problem}
    return _blank(design).model_copy(update=more)


class _Asked:
    """Designs whose rows are wanted, worked out one after the other by a thread that ends when none is."""

    def __init__(self) -> None:
        self._changed, self._ids, self._busy = Condition(), dict[UUID, None](), False

    def add(self, id: UUID) -> None:
        with self._changed:
            self._ids[id] = None
            if not self._busy:
                self._busy = True
                Thread(target=self._run, name="standings", daemon=True).start()

    def settle(self, seconds: float) -> bool:
        """Wait until none is wanted; whether that came about."""
        with self._changed:
            return self._changed.wait_for(lambda: not self._busy, seconds)

    def _run(self) -> None:
        while True:
            with self._changed:
                id = next(iter(self._ids), None)
                if id is None:
                    self._busy = False
                    self._changed.notify_all()
                    break
            begun = time.monotonic()
            try:
                design = Design.objects.select_related("current").filter(id=id).first()
                if design is not None:
                    work_out(design)
            except Error:
                log.exception("The shelf's rows cannot be kept.")
            with self._changed:
                self._ids.pop(id, None)
            time.sleep(min(time.monotonic() - begun, BREATH))  # who waits for an answer comes first
        close_old_connections()


_asked = _Asked()
settle = _asked.settle
