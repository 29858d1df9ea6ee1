"""The API: routers that parse, call one action, and return. Every refusal is application/problem+json."""

from __future__ import annotations

from collections.abc import Iterable

from django.http import HttpRequest, HttpResponse
from hexlet_core.errors import HexletError, Problem
from ninja import NinjaAPI
from ninja.errors import ValidationError
from workshop.actions import NameTaken, NotThere, Stale

from . import bench, designs, exchange, parts
from .schemas import ProblemOut, Refusal, StaleRefusal

api = NinjaAPI(title="Hexlet", version="1", docs_url=None, urls_namespace="api")
api.add_router("", designs.router)
api.add_router("", bench.router)
api.add_router("", parts.router)
api.add_router("", exchange.router)


def _answer(request: HttpRequest, status: int, body: Refusal) -> HttpResponse:
    response = HttpResponse(body.model_dump_json(), status=status, content_type="application/problem+json")
    return response


def _refusal(kind: str, title: str, problems: Iterable[Problem]) -> Refusal:
    return Refusal(type=f"hexlet:{kind}", title=title, problems=[ProblemOut.of(p) for p in problems])


@api.exception_handler(HexletError)
def refused(request: HttpRequest, error: HexletError) -> HttpResponse:
    """Something in what was sent cannot be used; each field is named."""
    return _answer(request, 422, _refusal(type(error).__name__, "Not taken", error.problems))


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """The request itself is not of the expected form."""
    problems = [Problem(".".join(str(p) for p in e["loc"][1:]), e["msg"]) for e in error.errors]
    return _answer(request, 422, _refusal("request", "Not understood", problems))


@api.exception_handler(NotThere)
def not_there(request: HttpRequest, error: NotThere) -> HttpResponse:
    """The design is unknown or deleted."""
    return _answer(
        request,
        404,
        _refusal(
            "not-there",
            "There is no such design",
            [Problem("id", "It may have been deleted. Look on the shelf.")],
        ),
    )


@api.exception_handler(NameTaken)
def name_taken(request: HttpRequest, error: NameTaken) -> HttpResponse:
    """Two designs cannot share a name."""
    return _answer(request, 422, _refusal("name-taken", "Name taken", [error.problem]))


@api.exception_handler(Stale)
def stale(request: HttpRequest, error: Stale) -> HttpResponse:
    """Somebody saved first; both states are in the answer."""
    body = StaleRefusal(
        type="hexlet:stale",
        title="Changed in two places",
        problems=[
            ProblemOut(
                field="stamp",
                message="This design was saved elsewhere since you opened it.",
                got="",
                allowed="",
                suggestion=None,
            )
        ],
        theirs=designs.opened(error.design),
        mine=error.mine,
        differences=list(error.differences),
    )
    return _answer(request, 409, body)
