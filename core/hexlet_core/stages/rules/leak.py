"""What leaks beside the last current that makes a time: whether it counts, how long a time may be
trusted, and where a resistor's window ends.
"""

from __future__ import annotations

import math
from dataclasses import dataclass

from ...quantity import show
from ..say.checks import Check, check, when
from ..say.windows import Bound, bound
from .timing import leak_of

SMALL = 5.0  # times the last current must be more than what leaks


@dataclass(frozen=True)
class Leak:
    """A timing capacitor [F] at the volts where its time ends [V], with the last current through its
    resistor [A], and what pins and gates take of it besides [A].
    """

    taken: float
    end: float
    farads: float
    last: float

    @property
    def usual(self) -> float:
        """What mostly leaks [A]."""
        return self.taken + self.end / leak_of(self.farads)

    @property
    def worst(self) -> float:
        """What leaks at the most [A]."""
        return self.taken + self.end / leak_of(self.farads, 1.0)

    @property
    def most(self) -> float:
        """What may leak [A]."""
        return max(self.last / SMALL, 1e-15)

    @property
    def share(self) -> float:
        """How much of the time could be trusted, the resistor as much smaller and the capacitor the same."""
        return self.most / self.worst if self.worst > 0.0 else math.inf

    @property
    def usual_share(self) -> float:
        """The same with a capacitor that leaks as most do."""
        return self.most / self.usual if self.usual > 0.0 else math.inf

    def check(self, seconds: float, *, formula: str, because: str, part: str, ref: str) -> Check:
        """Whether it counts, of a time [s]; `part` and `ref` are its resistor and its capacitor."""
        trusted = self.share * seconds
        words = f" With {ref}, {show(trusted, 's', 2)} can be trusted." if trusted < 10 * seconds else ""
        cure = f"Take a smaller {part} and a larger {ref}."
        if self.worst > 2 * self.taken:
            cure = f"Take a film capacitor, or a counter for a long time: a larger {ref} leaks as much more."
        return check(
            "leak",
            "What leaks",
            "practice",
            "current",
            unit="A",
            nominal=self.usual,
            worst=self.worst,
            most=self.most,
            at=when("the leakiest capacitor"),
            says=f"{show(self.usual, 'A')} beside the last {show(self.last, 'A')} through {part}.{words}",
            formula=formula,
            numbers=f"{show(self.usual, 'A')} ≤ {show(self.most, 'A')}",
            because=because,
            cure=cure,
        )

    def bound(self, ohms: float, line: float = 0.0) -> list[Bound]:
        """Where the window of the resistor ends that now has these ohms, `line` of them in line with it."""
        if self.worst <= 0.0:
            return []
        return [
            bound(
                "high",
                ohms * self.share - line,
                "more than what leaks",
                detail=show(self.worst, "A"),
                guards="leak",
                formula="R ≤ V_{R} / (5 · I_{leak})",
                because="Through a larger one comes no more than what the capacitor and the pins may leak.",
                soft=True,
            )
        ]
