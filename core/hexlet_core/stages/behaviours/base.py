"""What behaviours that command by themselves share: a rail, and an output that nobody has to ask for."""

from __future__ import annotations

from abc import abstractmethod

from ..contract.facts import Command, Fact
from ..contract.ports import Port, rail_in
from ..contract.site import Site
from ..contract.stage import Behaviour


class ByItself(Behaviour):
    """Gives a command as soon as the supply is there."""

    @abstractmethod
    def gives(self, site: Site) -> Command:
        """Its output."""

    def ports(self) -> tuple[Port, ...]:
        return (rail_in(), Port("out", "command", "out", {"out": "out", "ref": "zero"}))

    def tell(self, port: str, site: Site) -> Fact | None:
        return self.gives(site) if port == "out" else None
