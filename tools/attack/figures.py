"""What was tried, and what of it was not as it should be."""

from __future__ import annotations

from collections import Counter
from dataclasses import dataclass, field

from .target import Answer

OURS = ("Input should", "pydantic", "type=", "Traceback", "sqlite", "Errno", "ValidationError")
SLOW = 3.0  # an answer to a bad input that takes longer is counted [s]


@dataclass
class Figures:
    """What was tried, and what of it was not as it should be."""

    tried: Counter[str] = field(default_factory=Counter)
    statuses: Counter[int] = field(default_factory=Counter)
    wrong: list[str] = field(default_factory=list)
    slowest: tuple[float, str] = (0.0, "")
    numbers: dict[str, str] = field(default_factory=dict)
    timed: bool = True  # whether what is slow is wrong: not on a machine that does other things meanwhile

    def note(self, what: str, about: str, answer: Answer) -> None:
        """One answer: no fault of the server, in our words, in time."""
        self.tried[what] += 1
        self.statuses[answer.status] += 1
        self.slowest = max(self.slowest, (answer.seconds, about))
        text = answer.body[:3000].decode("utf-8", "replace")
        busy = answer.status == 503 and b"hexlet:busy" in answer.body  # told of, and meant to be tried again
        if answer.status >= 500 and not busy:
            self.wrong.append(f"{about}: answered {answer.status} {text[:200]}")
        elif (
            answer.status >= 400
            and about.startswith(("/api", "schema"))
            and "problem+json" not in answer.kind
        ):
            self.wrong.append(f"{about}: {answer.status} as {answer.kind}")
        if answer.status >= 400 and (words := next((w for w in OURS if w in text), None)):
            self.wrong.append(f"{about}: says “{words}”: {text[:200]}")
        if self.timed and answer.seconds > SLOW:
            self.wrong.append(f"{about}: took {answer.seconds:.1f} s")
