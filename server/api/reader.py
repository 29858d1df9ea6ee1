"""How a request's body is read: JSON that every part of the program can hold, or a refusal at its field."""

from __future__ import annotations

import json
from collections.abc import Iterator
from typing import Any

from django.http import HttpRequest
from hexlet_core.errors import DocumentError, Problem
from ninja.parser import Parser
from ninja.types import DictStrAny

DIGITS = 300  # of a whole number: more is no quantity
DEEP = 60  # lists and objects in each other
FORM = "A JSON object is wanted here, sent as application/json."


class Reader(Parser):
    """Reads bodies strictly: no half characters, no numbers that are none, nothing bottomless."""

    def parse_body(self, request: HttpRequest) -> DictStrAny:
        """The body's JSON.

        Raises: DocumentError.
        """
        if request.content_type != "application/json":
            raise DocumentError(Problem("", FORM, got=(request.content_type or "nothing")[:60]))
        try:
            text = request.body.decode("utf-8-sig")
            found: DictStrAny = json.loads(text, parse_int=_whole, parse_constant=_none)
        except (ValueError, RecursionError):
            raise DocumentError(Problem("", FORM)) from None
        for path, problem in _wrong(found, "", 0):
            raise DocumentError(Problem(path.lstrip("."), problem))
        return found


def _whole(digits: str) -> int | float:
    return int(digits) if len(digits) <= DIGITS else float("inf") * (-1 if digits[0] == "-" else 1)


def _none(word: str) -> float:
    raise ValueError(word)


def _wrong(data: Any, path: str, deep: int) -> Iterator[tuple[str, str]]:
    """Where something cannot be held, and why."""
    if deep > DEEP:
        yield path[:200], f"Lists and fields lie in each other more than {DEEP} deep."
    elif isinstance(data, str):
        if any(0xD800 <= ord(c) <= 0xDFFF for c in data) if not data.isascii() else False:
            yield path, "This text holds half a character. Type it again."
        elif "\x00" in data:
            yield path, "This text holds a character that cannot be kept. Type it again."
    elif isinstance(data, dict):
        for name, value in data.items():
            yield from _wrong(name, f"{path}.{name[:40].encode('ascii', 'replace').decode()}", deep)
            yield from _wrong(value, f"{path}.{name[:40]}", deep + 1)
    elif isinstance(data, list):
        for k, value in enumerate(data):
            yield from _wrong(value, f"{path}[{k}]", deep + 1)
