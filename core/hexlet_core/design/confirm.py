"""confirm(study): what the simulated circuit says to each verdict that names where it shows.

Formulas answer while a value is dragged; this runs when the hand rests. Where the two disagree, the circuit
decides, and the disagreement is told.
"""

from __future__ import annotations

import math
from functools import lru_cache

from ..fields import Document
from ..quantity import show
from ..stages.say.checks import Standing, Verdict, share, standing_of
from .dominant import Dominant, dominant
from .proofs import Proof, proofs
from .study import Study

KEPT = 64
EASY = 0.5  # of its limit used at the worst corner: below it nobody asks which part it hangs on


class Confirmed(Document):
    """A verdict beside the circuit's own number, at the verdict's corner.

    `agrees` is whether the two are as near as they should be; `contradicts` whether they lie on different
    sides of the limit: then `standing` is the circuit's.
    """

    id: str
    found: float
    text: str
    agrees: bool
    contradicts: bool
    standing: Standing
    dominant: Dominant | None = None


@lru_cache(KEPT)
def confirm(here: Study) -> tuple[Confirmed, ...]:
    """Every verdict that the simulated circuit answers; none on a supply that alternates, or where
    something is not joined yet.
    """
    verdicts = {v.id: v for v in here.verdicts}
    found = []
    for block in here.order:
        for proof in proofs(here, block):
            if not math.isnan(proof.found):
                found.append(_beside(here, verdicts[f"{block}.{proof.check.id}"], proof))
    return tuple(found)


def _beside(here: Study, verdict: Verdict, proof: Proof) -> Confirmed:
    used = share(proof.found, verdict.limit, verdict.sense)
    contradicts = not proof.holds and (used > 1) != (verdict.used > 1)
    standing = verdict.standing
    if contradicts and standing != "told":
        standing = standing_of(verdict.sort, verdict.about, used, max(used, verdict.used_worst))
    near = standing == "fits" and max(used, verdict.used_worst) > EASY
    return Confirmed(
        id=verdict.id,
        found=proof.found,
        text=show(proof.found, verdict.unit, 3),
        agrees=proof.holds,
        contradicts=contradicts,
        standing=standing,
        dominant=dominant(here, verdict, proof) if standing == "tight" or near else None,
    )
