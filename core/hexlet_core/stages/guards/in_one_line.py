"""What guards in one of the load's two lines share: it is the line with the switch."""

from __future__ import annotations

from collections.abc import Iterator
from typing import ClassVar, Literal

from ...errors import Problem
from ..contract.ports import Port
from ..contract.site import Site
from ..contract.stage import InLine

LINES = {"upper": "high", "lower": "low"}  # the switch's side that each line leads to


class InOneLine(InLine):
    """Lies between the switch and the load; `noun` is what it is called."""

    noun: ClassVar[str]

    line: Literal["upper", "lower"] = "upper"  # which of the load's lines it lies in: that with the switch

    def ports(self) -> tuple[Port, ...]:
        upper = self.line == "upper"
        beyond = {"top": "fed", "bottom": "bottom"} if upper else {"top": "top", "bottom": "fed"}
        return (
            Port("load", "load", "in", {"top": "top", "bottom": "bottom"}, passes="out"),
            Port("out", "load", "out", beyond, passes="load"),
        )

    def refuse(self, site: Site) -> Iterator[Problem]:
        if LINES[self.line] != site.side:
            other = "lower" if self.line == "upper" else "upper"
            text = f"The switch is in the load's other line: the {self.noun} belongs beside it."
            yield Problem(site.path("line"), text, got=self.line, suggestion=other)
