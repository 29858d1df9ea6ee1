"""The API: routers that parse, call one action, and return. Every refusal is application/problem+json."""

from __future__ import annotations

import logging
from collections.abc import Iterable

from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse
from hexlet_core.errors import HexletError, Problem
from hexlet_core.fields import as_problem
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from workshop.actions import NameTaken, NotThere, Stale

from . import bench, designs, exchange, jobs, parts, storage
from .executor import Busy
from .schemas import ProblemOut, Refusal, StaleRefusal

api = NinjaAPI(title="Hexlet", version="1", docs_url=None, urls_namespace="api")
api.add_router("", designs.router)
api.add_router("", bench.router)
api.add_router("", parts.router)
api.add_router("", exchange.router)
api.add_router("", jobs.router)
log = logging.getLogger(__name__)
WANTED = "A JSON object is wanted here, sent as application/json."


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
    problems = [as_problem({**e, "loc": tuple(e["loc"])[2:]}, None) for e in error.errors]
    return _answer(request, 422, _refusal("request", "Not understood", problems))


@api.exception_handler(DatabaseError)
def not_kept(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    """The database did not take it: in words, not as the library says it."""
    log.error("%s", error)
    status, kind, title, problem = storage.meaning(error)
    return _answer(request, status, _refusal(kind, title, [problem]))


@api.exception_handler(Busy)
def busy(request: HttpRequest, error: Busy) -> HttpResponse:
    """More long work is asked for than is let wait."""
    problem = Problem(
        "", "Other long work is under way and waiting. Stop some of it, or try again in a moment."
    )
    return _answer(request, 503, _refusal("busy", "Too much at once", [problem]))


@api.exception_handler(Exception)
def unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of the program's own."""
    log.exception("%s %s", request.method, request.path, exc_info=error)
    problem = Problem("", "That is a fault of the program, not yours. Nothing was changed by it.")
    return _answer(request, 500, _refusal("fault", "Something went wrong here", [problem]))


@api.exception_handler(Http404)
def nowhere(request: HttpRequest, error: Http404) -> HttpResponse:
    """There is nothing at this address."""
    return _answer(
        request, 404, _refusal("nowhere", "There is nothing here", [Problem("", "Look at the address.")])
    )


@api.exception_handler(HttpError)
def wrong_form(request: HttpRequest, error: HttpError) -> HttpResponse:
    """The request's body cannot be read at all."""
    return _answer(request, error.status_code, _refusal("request", "Not understood", [Problem("", WANTED)]))


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
