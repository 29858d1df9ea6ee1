"""What goes over the wire about boards and their plans, beyond the core's own documents."""

from __future__ import annotations

from typing import Annotated, Any
from uuid import UUID

from hexlet_core.build.boards import Board
from hexlet_core.build.buying import Substitute
from hexlet_core.build.mistakes import Mistake
from ninja import Schema
from pydantic import Field

from .schemas import AnswerIn


class PlanIn(AnswerIn):
    """A design to plan a board for; what is `kept` stays as far as it can, `stays` to the last."""

    kept: dict[str, Any] | None = None
    stays: list[Annotated[str, Field(max_length=60)]] = Field(default_factory=list, max_length=400)


class KeepIn(Schema):
    """A plan to build by."""

    plan: dict[str, Any]


class MoveIn(AnswerIn):
    """A part of a plan to be moved by hand: shifted, with one `leg` or whole, turned round; or let go of."""

    plan: dict[str, Any]
    part: str = Field(max_length=60)
    along: int = Field(0, ge=-300, le=300)
    rows: int = Field(0, ge=-20, le=20)
    leg: int | None = Field(None, ge=0, le=63)
    turned: bool = False
    pinned: bool = True


class PartIn(AnswerIn):
    """A design's part, by its block and its name there."""

    block: str = Field(max_length=8)
    local: str = Field(max_length=40)


class SubstitutesOut(Schema):
    """What could take a part's place."""

    rows: list[Substitute]


class MistakesIn(AnswerIn):
    """A plan, and one of its parts or wires ("w3")."""

    plan: dict[str, Any]
    key: str = Field(max_length=60)


class MistakesOut(Schema):
    """What may go wrong there."""

    rows: list[Mistake]


class ShoppingIn(Schema):
    """The designs to buy for."""

    designs: list[UUID] = Field(min_length=1, max_length=200)


class VoltsIn(AnswerIn):
    """A moment of the rehearsal [s]."""

    at: float = Field(0.0, ge=0)


class VoltsOut(Schema):
    """Each net's volts, in words."""

    volts: dict[str, str]


class BoardsIn(Schema):
    """The boards that are owned."""

    boards: list[Board] = Field(min_length=1, max_length=4)
