"""What a kind may rely on: stages and roles, ports and facts, sites, parts, scenes."""

from .descriptions import Allowed, Finder, Found, Ladder, Measure, Part, Path, StateRow, Step, Way
from .facts import Attached, Command, Contact, Control, Demand, Draw, Fact, Open, Rail, Switch
from .parts import Corner, Placed
from .ports import TERMINALS, Port
from .scenes import Act, Probe, Scene, Watch
from .site import Site
from .stage import ROLES, Behaviour, Drive, Guard, Load, Role, Signal, Stage

__all__ = [
    "ROLES",
    "TERMINALS",
    "Act",
    "Allowed",
    "Attached",
    "Behaviour",
    "Command",
    "Contact",
    "Control",
    "Corner",
    "Demand",
    "Draw",
    "Drive",
    "Fact",
    "Finder",
    "Found",
    "Guard",
    "Ladder",
    "Load",
    "Measure",
    "Open",
    "Part",
    "Path",
    "Placed",
    "Port",
    "Probe",
    "Rail",
    "Role",
    "Scene",
    "Signal",
    "Site",
    "Stage",
    "StateRow",
    "Step",
    "Switch",
    "Watch",
    "Way",
]
