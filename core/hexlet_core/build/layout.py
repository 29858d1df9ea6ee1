"""A board plan as a document: where every leg sits, which strips a wire joins, what meets off the board."""

from __future__ import annotations

from typing import Annotated, Any, Final, Literal

from pydantic import Field, ValidationInfo, field_validator

from ..fields import Document, read_document
from .boards import Board, Boards, Seat
from .bodies import REACH, BoardPart, Shape, Wanted

FORMAT: Final = "hexlet-plan"
Key = Annotated[str, Field(max_length=60)]
SEATED = {"two": 2, "button": 4}  # legs, each in a seat


class LegSeat(Document):
    """One leg in its seat; `net` says where it belongs, nothing where it stays unconnected."""

    leg: Annotated[str, Field(max_length=20)]
    net: Annotated[str, Field(max_length=60)] = ""
    seat: Seat


class Placing(Document):
    """One part on the board, or the leads of one beside it."""

    part: Key
    ref: Annotated[str, Field(max_length=40)]
    kind: Annotated[str, Field(max_length=40)]
    shape: Shape
    label: Annotated[str, Field(max_length=80)] = ""
    legs: Annotated[tuple[LegSeat, ...], Field(max_length=64)]
    was: Annotated[tuple[Seat, ...], Field(max_length=64)] = ()  # where it still sits, while it has to move

    @field_validator("shape")
    @classmethod
    def _stretches(cls, shape: Shape, info: ValidationInfo) -> Shape:
        kind = info.data.get("kind", "")
        if shape == "two" and kind not in REACH:
            raise ValueError(f"How far a {kind} stretches is not known, so it does not lie as “two”.")
        return shape

    @field_validator("legs")
    @classmethod
    def _all(cls, legs: tuple[LegSeat, ...], info: ValidationInfo) -> tuple[LegSeat, ...]:
        shape = info.data.get("shape", "")
        odd = len(legs) % 2 if shape == "chip" else len(legs) != SEATED.get(shape, len(legs))
        if odd or not legs:
            raise ValueError(f"{len(legs)} legs are not those of a part that lies as “{shape}”.")
        return legs

    def of_part(self, body: BoardPart) -> Placing:
        """The same seats for a part as a design has it: what it is called, and the nets of its legs."""
        legs = tuple(
            x.model_copy(update={"net": leg.net}) for x, leg in zip(self.legs, body.legs, strict=True)
        )
        told = {"part": body.key, "ref": body.ref, "kind": body.kind, "label": body.label}
        return self.model_copy(update={**told, "legs": legs})


class BoardWire(Document):
    """A wire from seat to seat."""

    net: Annotated[str, Field(max_length=60)]
    a: Seat
    b: Seat


class End(Document):
    """A leg that meets others off the board."""

    part: Key
    ref: Annotated[str, Field(max_length=40)]
    leg: Annotated[str, Field(max_length=20)]


class Meeting(Document):
    """Legs joined beside the board, by wires of their own."""

    net: Annotated[str, Field(max_length=60)]
    ends: Annotated[tuple[End, ...], Field(min_length=2, max_length=64)]


class BoardPlan(Document):
    """One plan: boards, parts, wires."""

    format: Literal["hexlet-plan"] = FORMAT
    version: Literal[1] = 1
    boards: Boards
    placings: Annotated[tuple[Placing, ...], Field(max_length=400)]
    links: Annotated[tuple[BoardWire, ...], Field(max_length=400)] = ()
    meetings: Annotated[tuple[Meeting, ...], Field(max_length=100)] = ()
    heavy: Annotated[tuple[Key, ...], Field(max_length=100)] = ()
    pinned: Annotated[tuple[Key, ...], Field(max_length=400)] = ()  # parts that somebody put where they are
    out: Annotated[tuple[Placing, ...], Field(max_length=400)] = ()  # parts still on the board that must go
    out_links: Annotated[tuple[BoardWire, ...], Field(max_length=400)] = ()

    @property
    def of(self) -> dict[str, Placing]:
        """Each placing by its part's key."""
        return {p.part: p for p in self.placings}


def meetings(what: Wanted) -> tuple[Meeting, ...]:
    """What meets off the board."""
    return tuple(
        Meeting(
            net=joint.net,
            ends=tuple(End(part=part, ref=what.refs.get(part, part), leg=leg) for part, leg in joint.ends),
        )
        for joint in what.joints
    )


def read_plan(data: Any) -> BoardPlan:
    """A plan from JSON data.

    Raises: DocumentError with the field.
    """
    return read_document(BoardPlan, data)


__all__ = ["Board", "BoardPlan", "BoardWire", "End", "LegSeat", "Meeting", "Placing", "meetings", "read_plan"]
