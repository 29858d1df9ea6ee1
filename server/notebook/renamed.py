"""Names of steps and readings as version 1 of the documents had them, in today's names."""

from __future__ import annotations

from hexlet_core.design.study import Study
from hexlet_core.stages.contract import Signal

# Steps of a load or drive that had names of their own, and the part and verb they are now.
OWN = {
    "coil_ohms": "relay.check",
    "coil_leads": "relay.place",
    "contact_leads": "contact",
    "load_leads": "load.place",
    "board_ground": "ground",
    "board_input": "input",
}
DRIVE = {
    "pull_check": "signal.check",
    "power_low": "powered.check",
    "jumper_high": "jumper.check",
    "pin": "command.place",
}


def step_names(here: Study) -> dict[str, str]:
    """Old step to new."""
    found = {}
    for block, ref, part in here.placed:
        for verb in ("place", "check"):
            found[f"{verb}_{ref.lower()}"] = f"{block}.{part.local}.{verb}"
    for role, names in (("load", OWN), ("drive", DRIVE)):
        for block in here.design.of_role(role):  # type: ignore[arg-type]
            for old, new in names.items():
                found.setdefault(old, f"{block}.{new}")
    return found


def rung_names(here: Study) -> dict[str, str]:
    """Old reading to new: the signal's levels were named, not what they mean."""
    found = {}
    senses = [stage.gives(site).sense for stage, site in here.of_role("signal") if isinstance(stage, Signal)]
    sense = senses[0] if senses else "high"
    levels = {"active": sense, "idle": "low" if sense == "high" else "high", "rest": "floating"}
    for block, probe in here.probes:
        for id in probe.scenes:
            found[f"{probe.id}.{levels.get(id, id)}"] = f"{block}.{probe.id}.{id}"
    return found
