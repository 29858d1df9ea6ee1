"""How a part lies at a switch's control in a drawing, with its cathode towards the positive side."""

from __future__ import annotations

from ..contract.site import Site
from ..drawing.pen import HEIGHT, Pen


def draw_control(pen: Pen, site: Site, local: str, symbol: str) -> None:
    """A part from the control to its own rail: cathode to the control on the low side, to the rail on the
    high one.
    """
    ref, low = site.ref(local), site.side == "low"
    assert pen.control is not None
    x0, y0 = pen.control
    x = x0 + ((3.4, -3.6) if low else (2.8, -1.5))[min(pen.at_control, 1)]
    pen.at_control += 1
    said = {} if low else {"label": "", "value": ""}
    at = pen.part(site, local, symbol, x, 25.0 if low else 3.2, **said)  # type: ignore[arg-type]
    if low:
        pen.wire((x0, y0), (x0, 19.2), part=ref)
        pen.wire((x0, 19.2), (x, 19.2), at["k"], part=ref)
        pen.wire(at["a"], (x, HEIGHT), part=ref)
    else:
        pen.wire(at["a"], (x, y0), part=ref)
        pen.wire(at["k"], (x, 0.0), part=ref)


def ends(site: Site) -> dict[str, str]:
    """Anode and cathode: the part points up."""
    return {"a": "ref", "k": "gate"} if site.side == "low" else {"a": "gate", "k": "ref"}
