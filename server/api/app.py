"""The API: routers that parse, call one action, and return. Every refusal is application/problem+json."""

from __future__ import annotations

import logging
from typing import Any

from django.db import DatabaseError
from django.http import Http404, HttpRequest, HttpResponse
from hexlet_core.errors import HexletError, Problem
from hexlet_core.fields import as_problem
from ninja import NinjaAPI
from ninja.errors import HttpError, ValidationError
from workshop.actions import NameTaken, NotThere, Stale

from . import bench, board, designs, exchange, jobs, parts, storage
from .executor import Busy
from .reader import Reader
from .refusals import PROBLEM, answer, misread, nothing_there, problem, refusal
from .schemas import ProblemOut, StaleRefusal

REFUSALS = {  # what any question may be answered with
    "400": "The request cannot be read",
    "403": "It does not come from the application's own page",
    "404": "There is nothing of that name",
    "422": "Something in it cannot be used; each field is named",
    "500": "A fault of the program's own",
    "503": "Too much at once, or the database does not answer",
    "507": "The disk is full",
}


class Api(NinjaAPI):
    """The API, whose schema tells of every refusal."""

    def get_openapi_schema(self, **how: Any) -> Any:
        """The published schema: each operation with its refusals, as what they are sent."""
        schema = super().get_openapi_schema(**how)
        shape = {"schema": {"$ref": "#/components/schemas/Refusal"}}
        for operation in (op for methods in schema["paths"].values() for op in methods.values()):
            told = operation["responses"] = {str(k): v for k, v in operation["responses"].items()}
            for status, found in told.items():
                content = found.get("content", {})
                if int(status) >= 400 and "application/json" in content:
                    found["content"] = {PROBLEM: content["application/json"]}
            for status, text in REFUSALS.items():
                told.setdefault(status, {"description": text, "content": {PROBLEM: shape}})
        return schema


api = Api(title="Hexlet", version="1", docs_url=None, urls_namespace="api", parser=Reader())
api.add_router("", designs.router)
api.add_router("", bench.router)
api.add_router("", board.router)
api.add_router("", parts.router)
api.add_router("", exchange.router)
api.add_router("", jobs.router)
log = logging.getLogger(__name__)


@api.exception_handler(HexletError)
def refused(request: HttpRequest, error: HexletError) -> HttpResponse:
    """Something in what was sent cannot be used; each field is named."""
    return answer(422, refusal(type(error).__name__, "Not taken", error.problems))


@api.exception_handler(ValidationError)
def malformed(request: HttpRequest, error: ValidationError) -> HttpResponse:
    """The request itself is not of the expected form."""
    problems = [as_problem({**e, "loc": tuple(e["loc"])[2:]}, None) for e in error.errors]
    return answer(422, refusal("request", "Not understood", problems))


@api.exception_handler(DatabaseError)
def not_kept(request: HttpRequest, error: DatabaseError) -> HttpResponse:
    """The database did not take it: in words, not as the library says it."""
    log.error("%s", error)
    return problem(*storage.meaning(error))


@api.exception_handler(Busy)
def busy(request: HttpRequest, error: Busy) -> HttpResponse:
    """More long work is asked for than is let wait."""
    text = "Other long work is under way and waiting. Stop some of it, or try again in a moment."
    return problem(503, "busy", "Too much at once", text)


@api.exception_handler(Exception)
def unforeseen(request: HttpRequest, error: Exception) -> HttpResponse:
    """A fault of the program's own."""
    log.exception("%s %s", request.method, request.path, exc_info=error)
    text = "That is a fault of the program, not yours. Nothing was changed by it."
    return problem(500, "fault", "Something went wrong here", text)


@api.exception_handler(Http404)
def nowhere(request: HttpRequest, error: Http404) -> HttpResponse:
    """There is nothing at this address."""
    return nothing_there()


@api.exception_handler(HttpError)
def wrong_form(request: HttpRequest, error: HttpError) -> HttpResponse:
    """The request's body cannot be read at all."""
    return misread(error.status_code)


@api.exception_handler(NotThere)
def not_there(request: HttpRequest, error: NotThere) -> HttpResponse:
    """The design is unknown or deleted."""
    return answer(
        404,
        refusal(
            "not-there",
            "There is no such design",
            [Problem("id", "It may have been deleted. Look on the shelf.")],
        ),
    )


@api.exception_handler(NameTaken)
def name_taken(request: HttpRequest, error: NameTaken) -> HttpResponse:
    """Two designs cannot share a name."""
    return answer(422, refusal("name-taken", "Name taken", [error.problem]))


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
    return answer(409, body)
