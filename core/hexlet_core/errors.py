"""The core's own errors. Nothing else is raised at a caller for bad input.

HexletError ├── EntryError      one value at one field: not understood, wrong unit, out of range ├──
DocumentError   a document as a whole: broken, newer, or several fields wrong ├── NetlistError    a circuit
that cannot be solved as drawn: floating node, source loop └── SettleError     a solve that did not converge:
when, where and what was tried
"""

from __future__ import annotations

from dataclasses import dataclass


@dataclass(frozen=True)
class Problem:
    """One thing wrong at one field, in words a person can act on.

    `field` is a dotted path into the document; `got` is what was typed; `allowed` says the range or
    choices; `suggestion` is text that would be taken at this field, when one is likely.
    """

    field: str
    message: str
    got: str = ""
    allowed: str = ""
    suggestion: str | None = None

    def __str__(self) -> str:
        parts = [f"{self.field}: {self.message}" if self.field else self.message]
        if self.got:
            parts.append(f"Got {self.got}.")
        if self.allowed:
            parts.append(f"Allowed: {self.allowed}.")
        if self.suggestion:
            parts.append(f"Try {self.suggestion}.")
        return " ".join(parts)


class HexletError(Exception):
    """Base of every error the core raises; `problems` names each field concerned."""

    def __init__(self, *problems: Problem) -> None:
        self.problems = problems
        super().__init__("\n".join(str(p) for p in problems))


class EntryError(HexletError):
    """One value was not taken."""

    @property
    def problem(self) -> Problem:
        return self.problems[0]


class DocumentError(HexletError):
    """A document was not taken."""


class NetlistError(HexletError):
    """A circuit cannot be solved as it stands."""


class SettleError(HexletError):
    """The solver found no answer; `time` is where it stopped [s]."""

    def __init__(self, problem: Problem, time: float) -> None:
        self.time = time
        super().__init__(problem)
