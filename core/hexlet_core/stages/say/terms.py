"""The field's words that texts use without saying what they mean, each in one sentence (`terms.json`)."""

from __future__ import annotations

from functools import cache
from pathlib import Path

from pydantic import TypeAdapter

from ...fields import Document


class Term(Document):
    """A word, the forms in which it stands in a text, and what it means."""

    forms: tuple[str, ...]
    text: str


@cache
def terms() -> tuple[Term, ...]:
    """Every term that is explained."""
    return TypeAdapter(tuple[Term, ...]).validate_json(Path(__file__).with_suffix(".json").read_bytes())
