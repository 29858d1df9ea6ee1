"""What goes over the wire beyond the core's own documents."""

from __future__ import annotations

from datetime import datetime
from typing import Annotated, Any, Literal
from uuid import UUID

from hexlet_core.build.boards import Board
from hexlet_core.build.view import BoardView, PlanStep
from hexlet_core.cards.bench import Back, CardCurve
from hexlet_core.design.compare import Difference
from hexlet_core.design.document import Design
from hexlet_core.design.evaluate import Evaluation, FacetState
from hexlet_core.design.exchange import Offered
from hexlet_core.design.hangs import HangsStep
from hexlet_core.design.script import Script
from hexlet_core.design.starts import Start
from hexlet_core.errors import Problem
from hexlet_core.prove.progress import Progress
from hexlet_core.rehearsal.holding import HoldingStep
from hexlet_core.rehearsal.menu import Verb
from hexlet_core.rehearsal.orders import OrdersStep
from hexlet_core.rehearsal.otherwise import OtherwiseStep
from hexlet_core.rehearsal.press_map import MapStep
from hexlet_core.rehearsal.rehearse import Rehearsal
from hexlet_core.rehearsal.spread import FanStep, Wish
from hexlet_core.stages.contract import Part, Step
from hexlet_core.stages.drawing import Shape
from hexlet_core.stages.say.windows import Window
from ninja import Schema
from pydantic import Field


class ProblemOut(Schema):
    """One field that was refused."""

    field: str
    message: str
    got: str
    allowed: str
    suggestion: str | None

    @classmethod
    def of(cls, problem: Problem) -> ProblemOut:
        return cls(
            field=problem.field,
            message=problem.message,
            got=problem.got,
            allowed=problem.allowed,
            suggestion=problem.suggestion,
        )


class Refusal(Schema):
    """application/problem+json."""

    type: str
    title: str
    problems: list[ProblemOut]


class Opened(Schema):
    """A design as the workspace opens it."""

    id: UUID
    name: str
    stamp: int
    revision: int
    saved: datetime
    document: Design
    can_undo: bool
    can_redo: bool
    undo_label: str
    redo_label: str


class StaleRefusal(Refusal):
    """A stale save: the state in force, the state refused, and where they differ."""

    theirs: Opened
    mine: Design
    differences: list[Difference]


class LastReading(Schema):
    """A design's newest reading, for the shelf."""

    text: str
    where: str
    standing: Literal["inside", "outside"] | None
    place: float | None
    taken: datetime


class ShelfRow(Schema):
    """One design on the shelf."""

    id: UUID
    name: str
    path: str
    facets: list[FacetState]
    next_facet: str
    next_text: str
    next_do: str
    last: LastReading | None
    touched: datetime
    pending: bool = False  # what is shown is older than the design, or nothing yet
    problem: str = ""  # why it cannot be worked out


class Gone(Schema):
    """The design deleted last, for undo."""

    id: UUID
    name: str


class Shelf(Schema):
    """All designs, the one to carry on with first."""

    designs: list[ShelfRow]
    starts: list[Start]
    deleted: Gone | None
    supply: str


class SaveIn(Schema):
    """A save on top of the state that `stamp` names."""

    document: dict[str, Any]
    stamp: int
    label: str = ""


class StartIn(Schema):
    """A new design: from a starting point, or from a document."""

    start: str = Field("coil", max_length=20)
    document: dict[str, Any] | None = None


class RequestIn(Schema):
    """Changes to a design, all of them or none, on top of the state that `stamp` names."""

    changes: list[ChangeIn] = Field(max_length=200)
    stamp: int
    label: str = ""


class OffersIn(Schema):
    """A document, and the block that is asked about."""

    document: dict[str, Any]
    block: str = Field(max_length=8)


class OffersOut(Schema):
    """What could take the block's place, each judged in the design."""

    offers: list[Offered]


class WindowsOut(Schema):
    """The windows of a block."""

    windows: list[Window]


class ChangeIn(Schema):
    """One field set to a value or to what was typed."""

    path: str
    value: Any


class AnswerIn(Schema):
    """A document to answer for; `script` is the rehearsal to run; when left out, what is kept
    with the design, else the first of the usual ones.

    `channel` is the one that is open, where there are several; 0 opens all.
    """

    document: dict[str, Any]
    script: dict[str, Any] | None = None
    changes: list[ChangeIn] = Field(default_factory=list)
    channel: int = Field(default=1, ge=0, le=40)


class ReadingsIn(AnswerIn):
    """A document, and readings of the volts at which its trimmer acts [V]."""

    readings: list[Annotated[float, Field(gt=0, lt=1000)]] = Field(default_factory=list, max_length=12)


class ChoicesIn(Schema):
    """A document with changes that stand, and changes of which each is still to be chosen or not."""

    document: dict[str, Any]
    changes: list[ChangeIn] = Field(default_factory=list, max_length=200)
    choices: list[ChangeIn] = Field(max_length=40)


class SpreadIn(AnswerIn):
    """A document and script to run many times; `wish` says how."""

    wish: Wish = Wish()


class Unsettled(Schema):
    """A rehearsal that stopped, and why."""

    time: float
    message: str


class Answer(Schema):
    """Everything that depends on a document's values."""

    document: Design
    evaluation: Evaluation
    rehearsal: Rehearsal | None
    menu: list[Verb]  # what its script can do
    unsettled: Unsettled | None
    presets: list[Script]
    left_out: list[str]  # events kept with the design that name what is not there any more


class Bench(Schema):
    """Building and proving: steps, what is done, the ladder."""

    progress: Progress
    steps: list[Step]
    parts: list[Part]
    done: list[str]
    supply: float | None
    supply_text: str
    meter_ways: dict[str, str]
    board: BoardView | None  # the plan that it is built by
    boards: list[Board]  # that are owned
    plans: int  # how many plans there are to go back to


class TickIn(Schema):
    """A build step done or not; `plan` is the board plan that it belongs to, where it is not kept yet."""

    step: str = Field(max_length=60)
    done: bool
    plan: dict[str, Any] | None = None


class ReadingIn(Schema):
    """A reading as typed, or over range, or skipped."""

    rung: str = Field(max_length=60)
    text: str = Field("", max_length=40)
    over_range: bool = False
    skipped: bool = False


class SupplyIn(Schema):
    """What the supply reads, as typed."""

    text: str = Field(max_length=40)


class StockRow(Schema):
    """A card in the drawer, and the designs that use it."""

    id: str
    kind: str
    title: str
    brief: str
    legs: list[str]
    price: float
    stock: int
    own: bool
    used: list[str]


class DrawerOut(Schema):
    """All cards, and what can be taken back."""

    cards: list[StockRow]
    glyphs: dict[str, list[Shape]]
    undo: str


class CardField(Schema):
    """One field of a card to be shown or typed."""

    path: str
    title: str
    unit: str
    text: str


class CardOut(Schema):
    """A card with what its model gives back."""

    card: dict[str, Any]
    fields: list[CardField]
    stock: int
    own: bool
    used: list[str]
    back: list[Back]
    curve: CardCurve | None


class CardIn(Schema):
    """An own card with its fields as typed; stock stays as it is when left out."""

    card: dict[str, Any]
    stock: int | None = Field(None, ge=0, le=1_000_000)


class StockIn(Schema):
    """How many there are."""

    stock: int = Field(ge=0, le=1_000_000)


class RowIn(Schema):
    """A row to keep."""

    card: dict[str, Any]
    stock: int = Field(ge=0, le=1_000_000)


class RowsIn(Schema):
    """The rows of a file that were confirmed."""

    name: str = Field(max_length=200)
    rows: list[RowIn] = Field(max_length=2000)


class ShortlistIn(Schema):
    """A document, and which of its fields wants a part card."""

    document: dict[str, Any]
    path: str = Field(max_length=80)


class MendIn(Schema):
    """A document, and the verdict to mend."""

    document: dict[str, Any]
    verdict: str = Field(max_length=60)


class ImportIn(Schema):
    """A file's text."""

    name: str = Field(max_length=200)
    text: str


RequestIn.model_rebuild()


class JobOut(Schema):
    """Long work: how it stands, its newest step by what was asked for, and what went wrong."""

    id: str
    state: Literal["waiting", "running", "done", "failed", "stopped"]
    problem: str
    fan: FanStep | None
    map: MapStep | None
    hangs: HangsStep | None
    otherwise: OtherwiseStep | None
    orders: OrdersStep | None
    holding: HoldingStep | None
    plan: PlanStep | None
