"""Refusals as application/problem+json."""

from __future__ import annotations

from collections.abc import Iterable

from django.http import HttpResponse
from hexlet_core.errors import Problem

from .schemas import ProblemOut, Refusal

PROBLEM = "application/problem+json"
WANTED = "A JSON object is wanted here, sent as application/json."


def refusal(kind: str, title: str, problems: Iterable[Problem]) -> Refusal:
    """What was refused, and why, field by field."""
    return Refusal(type=f"hexlet:{kind}", title=title, problems=[ProblemOut.of(p) for p in problems])


def answer(status: int, body: Refusal) -> HttpResponse:
    """A refusal as it goes over the wire."""
    return HttpResponse(body.model_dump_json(), status=status, content_type=PROBLEM)


def problem(status: int, kind: str, title: str, text: str) -> HttpResponse:
    """One that concerns no field."""
    return answer(status, refusal(kind, title, [Problem("", text)]))


def misread(status: int) -> HttpResponse:
    """What cannot be read as a request at all."""
    return problem(status, "request", "Not understood", WANTED)


def nothing_there() -> HttpResponse:
    """An address at which there is nothing."""
    return problem(404, "nowhere", "There is nothing here", "Look at the address.")
