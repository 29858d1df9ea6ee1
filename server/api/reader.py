"""How a request's body is read: JSON that every part of the program can hold, or a refusal at its field."""

from __future__ import annotations

from django.http import HttpRequest
from hexlet_core.errors import DocumentError, Problem
from hexlet_core.fields import read_json
from ninja.parser import Parser
from ninja.types import DictStrAny

from .refusals import WANTED


class Reader(Parser):
    """Reads bodies as the core reads its files."""

    def parse_body(self, request: HttpRequest) -> DictStrAny:
        """The body's JSON.

        Raises: DocumentError.
        """
        if request.content_type != "application/json":
            raise DocumentError(Problem("", WANTED, got=(request.content_type or "nothing")[:60]))
        found = read_json(request.body)
        if not isinstance(found, dict):
            raise DocumentError(Problem("", WANTED))
        return found
