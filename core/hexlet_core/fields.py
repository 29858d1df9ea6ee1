"""Document fields that carry a quantity: unit, bounds, title, and errors that name the field.

`Q` annotates a float in any pydantic model. The field then takes a number in SI units or engineering
shorthand, and refuses what it cannot use with the core's own words.
"""

from __future__ import annotations

import json
import math
import re
from collections.abc import Iterator
from dataclasses import dataclass, replace
from typing import Any, TypeVar, get_args

from pydantic import BaseModel, ConfigDict, ValidationError
from pydantic_core import PydanticCustomError, core_schema

from .errors import DocumentError, EntryError, Problem
from .quantity import parse, show


@dataclass(frozen=True)
class Q:
    """Unit and bounds of a quantity; `low` and `high` are inclusive, in SI units.

    With `marked` three digits are read as they are printed on the part: 503 is 50 kΩ, as 104 is 100 nF.
    """

    unit: str
    low: float
    high: float
    marked: bool = False

    def read(self, value: object) -> float:
        """The value in SI units, from a number or from shorthand.

        Raises: PydanticCustomError of type "entry", which pydantic files under the field's path.
        """
        try:
            if isinstance(value, str):
                number = parse(value, self.unit, marked=self.marked)
            elif isinstance(value, int | float) and not isinstance(value, bool):
                number = float(value) if abs(value) < HUGE else (math.inf if value > 0 else -math.inf)
            else:
                raise EntryError(Problem("", "A number or an entry such as 4k7 is wanted.", got=repr(value)))
            self.check(number, value)
        except EntryError as error:
            found = error.problem
            raise PydanticCustomError(
                "entry",
                "{message}",
                {
                    "message": found.message,
                    "got": found.got,
                    "suggestion": found.suggestion or "",
                    "allowed": self.allowed,
                },
            ) from None
        return number

    @property
    def allowed(self) -> str:
        return f"{show(self.low, self.unit)} to {show(self.high, self.unit)}"

    def check(self, number: float, typed: object, field: str = "") -> None:
        """Raises EntryError when a number is outside the bounds, with a likely slip as suggestion."""
        got = f"“{typed}”" if isinstance(typed, str) else f"{number:g}"
        if math.isnan(number):
            raise EntryError(Problem(field, "That is not a number.", got=got))
        if self.low <= number <= self.high:
            return
        suggestion = None
        if self.low <= -number <= self.high:
            suggestion = show(-number, self.unit)
        else:
            # A stray prefix is the usual slip: 3k3 typed for 3.3.
            for scale in (1e-3, 1e3, 1e-6, 1e6):
                if self.low <= number * scale <= self.high:
                    suggestion = show(number * scale, self.unit)
                    break
        value = "infinite" if math.isinf(number) else show(number, self.unit)
        raise EntryError(
            Problem(
                field,
                f"{value} is outside what this can be: {self.allowed}.",
                got=got,
                allowed=self.allowed,
                suggestion=suggestion,
            )
        )

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_before_validator_function(
            self.read, core_schema.float_schema(strict=False)
        )

    def __get_pydantic_json_schema__(self, schema: Any, handler: Any) -> dict[str, Any]:
        if handler.mode == "serialization":
            return {"type": "number"}
        return {
            "anyOf": [{"type": "number", "minimum": self.low, "maximum": self.high}, {"type": "string"}],
            "description": f"in {self.unit or 'no unit'}, or engineering shorthand",
        }


class Unless:
    """A field that may be left out: a word for it is read as nothing, and so is an empty entry."""

    def __init__(self, word: str) -> None:
        self.word = word

    def __get_pydantic_core_schema__(self, source: Any, handler: Any) -> core_schema.CoreSchema:
        return core_schema.no_info_before_validator_function(self.read, handler(source))

    def read(self, typed: object) -> object:
        """Nothing where the word or nothing was typed."""
        return None if isinstance(typed, str) and typed.strip().lower() in ("", self.word) else typed


def quantity_of(model: type[BaseModel], name: str) -> Q | None:
    """Unit and bounds of a field, also where it may be left out."""
    info = model.model_fields[name]
    for one in (info, *get_args(info.annotation)):
        for found in getattr(one, "metadata", ()) or getattr(one, "__metadata__", ()):
            if isinstance(found, Q):
                return found
    return None


class Document(BaseModel):
    """Base of every frozen document: unknown fields are refused, values are read by `Q`."""

    model_config = ConfigDict(frozen=True, extra="forbid", defer_build=True)


D = TypeVar("D", bound=BaseModel)
HUGE = 10**300


def read_document(model: type[D], data: object) -> D:
    """`data` as a `model`.

    Raises:
        DocumentError: one `Problem` for each field that was refused.
    """
    try:
        return model.model_validate(data)
    except (ValidationError, UnicodeEncodeError) as error:
        raise DocumentError(*_refused(error, data)) from None


def _refused(error: ValidationError | UnicodeEncodeError, data: object) -> list[Problem]:
    """What was refused; a name with half a character in it trips even the telling."""
    try:
        if isinstance(error, ValidationError):
            return [as_problem(e, data) for e in error.errors(include_url=False)[:TOLD]]
    except UnicodeEncodeError:
        pass
    return [Problem("", "A name in it holds half a character. Type it again.")]


DIGITS = 300  # of a whole number: more is no quantity
DEEP = 60  # lists and fields in each other
MANY = 2000  # items of one list, fields of one object
TOLD = 20  # problems that are told at once
# What no text may hold: half a character, and what neither XML nor a line of text can carry.
UNHELD = re.compile("[\ud800-\udfff\x00-\x08\x0b\x0c\x0e-\x1f\x7f\ufffe\uffff]")


def _whole(digits: str) -> int | float:
    return int(digits) if len(digits) <= DIGITS else float("-inf" if digits[0] == "-" else "inf")


def _no_number(word: str) -> float:
    raise ValueError(f"{word} is no number")


def _unheld(data: Any, path: str, deep: int) -> Iterator[Problem]:
    """Where something lies that cannot be kept or written out again."""
    if deep > DEEP:
        yield Problem(path[:80], f"Lists and fields lie in each other more than {DEEP} deep.")
    elif isinstance(data, dict | list) and len(data) > MANY:
        yield Problem(path[:80], f"{len(data)} are more than the {MANY} that one list or object can hold.")
    elif isinstance(data, str):
        if UNHELD.search(data):
            text = "This text holds half a character, or one that cannot be written out. Type it again."
            yield Problem(UNHELD.sub("?", path), text)
    elif isinstance(data, dict):
        for name, value in data.items():
            yield from _unheld(name, f"{path}.{name[:40]}", deep)
            yield from _unheld(value, f"{path}.{name[:40]}", deep + 1)
    elif isinstance(data, list):
        for k, value in enumerate(data):
            yield from _unheld(value, f"{path}[{k}]", deep + 1)


def read_json(text: str | bytes) -> Any:
    """Parsed JSON that every part of the program can hold.

    Raises:
        DocumentError: not JSON, with the line where reading stopped; or a text, number or depth that
            cannot be kept, with its place.
    """
    try:
        plain = text if isinstance(text, str) else text.decode("utf-8-sig")
        found = json.loads(plain.removeprefix("\ufeff"), parse_int=_whole, parse_constant=_no_number)
        for problem in _unheld(found, "", 0):
            raise DocumentError(replace(problem, field=problem.field.lstrip(".")))
        return found
    except (ValueError, RecursionError) as error:
        where = (
            f"line {error.lineno}, column {error.colno}" if isinstance(error, json.JSONDecodeError) else ""
        )
        raise DocumentError(
            Problem(
                where,
                (
                    "This is not a JSON document. Reading stopped here; look for a missing comma, quote or "
                    "bracket."
                ),
            )
        ) from None


def _field_path(place: tuple[int | str, ...], data: object) -> str:
    """A dotted path, without the tags that pydantic puts in for a choice between models."""
    path = ""
    for step in place:
        if isinstance(step, str) and isinstance(data, dict) and step not in data and step in data.values():
            continue
        path += f"[{step}]" if isinstance(step, int) else f".{step}"
        try:
            data = data[step]  # type: ignore[index]
        except (KeyError, IndexError, TypeError):
            data = None
    return path.lstrip(".")


# What a refusal of the validation library is called here, by the beginning of its type.
WORDS = {
    "dict_": "Fields by their names are wanted here.",
    "model_": "Fields by their names are wanted here.",
    "mapping_": "Fields by their names are wanted here.",
    "list_": "A list is wanted here.",
    "tuple_": "A list is wanted here.",
    "iterable_": "A list is wanted here.",
    "string_type": "Text is wanted here.",
    "string_unicode": "This text holds half a character. Type it again.",
    "string_sub_type": "Text is wanted here.",
    "bool_": "Yes or no is wanted here: true or false.",
    "int_": "A whole number is wanted here.",
    "float_": "A number is wanted here.",
    "finite_": "That is not a number that can be used.",
    "json_": "This is not JSON.",
    "uuid_": "No design has such an address.",
    "none_": "This is to be left out.",
    "union_tag_not_found": "Its kind is missing.",
    "recursion_loop": "This lies in itself.",
}
BOUNDS = {  # with the bound it names
    "too_long": ("max_length", "At most {} can stand here."),
    "too_short": ("min_length", "At least {} must stand here."),
    "string_too_long": ("max_length", "At most {} letters can stand here."),
    "string_too_short": ("min_length", "At least {} letters must stand here."),
    "greater_than_equal": ("ge", "It must be {} or more."),
    "greater_than": ("gt", "It must be more than {}."),
    "less_than_equal": ("le", "It must be {} or less."),
    "less_than": ("lt", "It must be less than {}."),
}


def _worded(kind: str, context: Any) -> str:
    """A refusal in our words."""
    if kind in BOUNDS:
        name, text = BOUNDS[kind]
        return text.format(context.get(name))
    return next(
        (text for begin, text in WORDS.items() if kind.startswith(begin)), "This cannot be used here."
    )


def as_problem(error: Any, data: object) -> Problem:
    """One of pydantic's errors in the core's own words."""
    field = _field_path(error["loc"], data)
    context = error.get("ctx") or {}
    if error["type"] == "entry":
        return Problem(
            field, context["message"], context["got"], context["allowed"], context["suggestion"] or None
        )
    if error["type"] == "missing":
        return Problem(field, "This is missing.")
    if error["type"] == "extra_forbidden":
        return Problem(field, "There is no such field here. Check its spelling, or leave it out.")
    got = error.get("input")
    shown = repr(got)[:60] if got is not None and not isinstance(got, BaseModel | dict | list) else ""
    own = str(context.get("error") or error["msg"]).removeprefix("Value error, ")
    message = own if error["type"] == "value_error" else _worded(error["type"], context)
    if error["type"] == "string_pattern_mismatch":
        return Problem(
            field,
            (
                "This name holds a character that cannot stand in a name here: brackets, a comma, # or one "
                "of its kind."
            ),
            got=shown,
        )
    if error["type"] in ("literal_error", "union_tag_invalid"):
        allowed = str(context.get("expected") or context.get("expected_tags", ""))
        return Problem(field, "This is not one of the choices.", got=shown, allowed=allowed)
    return Problem(field, message.rstrip(".") + ".", got=shown)
