"""The design as a flow of blocks: what stands where, how it is joined, and which blocks make a channel."""

from __future__ import annotations

from ..fields import Document
from ..stages.say.checks import Facet, Standing, worst_of
from .channels import lines
from .document import SUPPLY
from .study import Study


class FlowBlock(Document):
    """One block: what it is, how it stands, its main value. `column` is how far along the flow it lies."""

    id: str
    kind: str
    role: str
    facet: Facet
    title: str
    picture: str
    summary: str
    value: str  # what of the summary fits a small box
    standing: Standing
    column: int
    channel: int | None  # which of the loads' lines it is on; None where it is on all or none
    open: tuple[str, ...]  # ports that something must be joined to


class FlowJoin(Document):
    """One join between two blocks, from output to input; `carries` is the kind of its ports.

    It is live while `part` conducts.
    """

    begin: str
    end: str
    carries: str
    part: str = ""


class FlowPicture(Document):
    """All blocks along the flow, and their joins; rails are left out, for they go everywhere."""

    blocks: tuple[FlowBlock, ...]
    joins: tuple[FlowJoin, ...]
    channels: int


def flow_picture(here: Study) -> FlowPicture:
    """The design's blocks in the order of the flow."""
    columns: dict[str, int] = {}
    joins = []
    for (a, out), (b, into) in here.flow.joins:
        kind = here.flow.port((a, out)).kind
        if a != SUPPLY and kind != "rail":
            part = here.flow.onward(b) if kind == "load" else ""
            joins.append(FlowJoin(begin=f"{a}.{out}", end=f"{b}.{into}", carries=kind, part=part))
    for block in here.order:
        before = [
            columns[j.begin.partition(".")[0]]
            for j in joins
            if j.end.startswith(f"{block}.") and j.begin.partition(".")[0] in columns
        ]
        columns[block] = max(before, default=-1) + 1
    channels = _channels(here, joins)
    waiting: dict[str, list[str]] = {}
    for port in here.open:
        waiting.setdefault(port.partition(".")[0], []).append(port)
    blocks = []
    for stage, site in here.pairs:
        own = [v.standing for v in here.verdicts if v.block == site.id]
        blocks.append(
            FlowBlock(
                id=site.id,
                kind=str(getattr(stage, "kind", "")),
                role=stage.role,
                facet=stage.facet,
                title=stage.title,
                picture=stage.picture,
                summary=stage.summary,
                value=stage.summary.partition(", ")[2] or stage.summary,
                standing="unknown" if site.id in waiting else worst_of(own),
                column=columns[site.id],
                channel=channels.get(site.id),
                open=tuple(waiting.get(site.id, ())),
            )
        )
    return FlowPicture(blocks=tuple(blocks), joins=tuple(joins), channels=len(lines(here.design)))


def _channels(here: Study, joins: list[FlowJoin]) -> dict[str, int]:
    """Which load's line each block is on, counted from 0; a block on several lines is left out."""
    found: dict[str, set[int]] = {}
    for k, (_, line) in enumerate(lines(here.design)):
        waiting = [b for b in line if here.flow.stage(b).role == "load"]
        while waiting:
            block = waiting.pop()
            found.setdefault(block, set()).add(k)
            waiting += [
                j.begin.partition(".")[0]
                for j in joins
                if j.end.startswith(f"{block}.") and j.carries == "load"
            ]
    return {block: next(iter(own)) for block, own in found.items() if len(own) == 1}
