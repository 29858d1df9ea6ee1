"""Scenes: moments with a name, made by named actors; and what is read and watched in them.

An actor is a block with parts that can be posed ("active", "idle", "rest") or pressed. A scene without
`look` is the
circuit at rest with its actors so posed; with `look` it is run from the acts on and looked at then [s],
or with `mean` averaged up to then, as a meter does of what changes faster than it follows.
"""

from __future__ import annotations

from dataclasses import dataclass

from ...fields import Document

UPSTREAM = "@"  # in place of a block's id: the nearest actor before this block
MOMENT = 1e-3  # when something changes in a scene that is about a change [s]
SceneId = str


@dataclass(frozen=True)
class Act:
    """From `at` on, `who` is in a state; a press is let go after `hold` [s]."""

    who: str
    state: str
    at: float = 0.0
    hold: float | None = None


@dataclass(frozen=True)
class Scene:
    """A moment with a name. `cold` begins with nothing charged and the supply just switched on."""

    id: SceneId
    words: str
    acts: tuple[Act, ...] = ()
    look: float | None = None
    cold: bool = False
    mean: float = 0.0  # over how long before `look` a meter averages [s]; 0 where it follows


@dataclass(frozen=True)
class Play:
    """A script that a kind brings: what its actors do up to a time [s]; with `plugged`, the supply is
    switched on then [s]; `supply` is where it goes: from when [s], to what [V], within how long [s].
    """

    title: str
    stop: float
    acts: tuple[Act, ...] = ()
    plugged: float | None = None
    supply: tuple[tuple[float, float, float], ...] = ()


class Probe(Document):
    """A point a person can find: `red` and `black` are what the meter's leads touch, in words.

    `signal` is read in the block's own names: a net ("gate"), two nets ("v(top,bottom)") or the current
    into a part's
    terminal ("i(relay.a)"). `scenes` are those it is worth reading in.
    """

    id: str
    title: str
    red: str
    black: str = "0 V rail"
    signal: str
    scenes: tuple[SceneId, ...] = ("idle", "active")

    @property
    def current(self) -> bool:
        return self.signal.startswith("i(")


class Watch(Document):
    """A quantity worth watching over time, in the block's own names; `words` make it digital."""

    id: str
    title: str
    unit: str
    signal: str
    place: int  # where it stands among the others: 0 signal, 1 supply, 2 load, 3 output, 4 contact, 5 control
    words: tuple[str, str] | None = None
    limits: tuple[tuple[float, str], ...] = ()
    shown: bool = True
    peak: bool = False  # how far it rises above the supply is worth a mark
