"""A board plan as a stand-alone SVG file at true scale: a part can be laid on the paper."""

from __future__ import annotations

from collections.abc import Iterator
from xml.sax.saxutils import escape

from ..build.boards import PITCH
from ..build.layout import BoardPlan
from ..build.shapes import Sheet
from ..build.sheet import sheet

INK, PAPER, RULE, FREE = "#14223A", "#FFFFFF", "#938871", "#C9C1B2"
SEAT = 0.2
TEXT = 'font-family="sans-serif" stroke="none"'


def hexagon(x: float, y: float, r: float = SEAT) -> str:
    """A flat-topped hexagon as a path."""
    h = r * 0.866
    return f"M{x - r:g} {y:g}l{r / 2:g} {-h:g}h{r:g}l{r / 2:g} {h:g}l{-r / 2:g} {h:g}h{-r:g}z"


def bevelled(x: float, y: float, width: float, height: float, cut: float = 0.2) -> str:
    """A box with its corners cut off."""
    return (
        f"M{x + cut:g} {y:g}h{width - 2 * cut:g}l{cut:g} {cut:g}v{height - 2 * cut:g}l{-cut:g} {cut:g}"
        f"h{-(width - 2 * cut):g}l{-cut:g} {-cut:g}v{-(height - 2 * cut):g}z"
    )


def board_svg(plan: BoardPlan, title: str) -> str:
    """The strip map in ink on paper, 2.54 mm a pitch."""
    found = sheet(plan)
    frame = found.frame
    left, top, right, bottom = frame.left, frame.top, frame.right, frame.bottom
    width, height = (right - left) * PITCH, (bottom - top) * PITCH
    return "\n".join(
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="{left:g} {top:g} {right - left:g} '
            f'{bottom - top:g}" '
            f'width="{width:.2f}mm" height="{height:.2f}mm" role="img" fill="none" stroke="{INK}" '
            'stroke-width="0.08" stroke-linejoin="round" stroke-linecap="round">',
            f"<title>{escape(title)}</title>",
            f'<rect x="{left:g}" y="{top:g}" width="100%" height="100%" fill="{PAPER}" stroke="none"/>',
            *_board(found),
            *_parts(found),
            "</svg>",
            "",
        )
    )


def _board(found: Sheet) -> Iterator[str]:
    for strip in found.strips:
        shape = bevelled(strip.x, strip.y, strip.width, strip.height)
        yield f'<path d="{shape}" stroke="{RULE if strip.net else FREE}" stroke-width="0.06"/>'
        dots = "".join(f"M{s.x:g} {s.y:g}h0" for s in strip.seats)
        yield f'<path d="{dots}" stroke="{RULE}" stroke-width="0.14"/>'
    labels = [(c.x, c.y, c.text) for c in found.columns] + [(r.x, r.y, r.text) for r in found.rows]
    for x, y, text in labels:
        yield (
            f'<text x="{x:g}" y="{y + 0.2:g}" {TEXT} fill="{RULE}" font-size="0.62" '
            f'text-anchor="middle">{text}</text>'
        )


def _parts(found: Sheet) -> Iterator[str]:
    for wire in found.wires:
        yield f'<path d="{wire.d}" stroke-width="0.16"/>'
        yield f'<path d="{"".join(hexagon(s.x, s.y) for s in wire.seats)}" fill="{INK}"/>'
    for tag in found.tags:
        yield f'<path d="{tag.d}" stroke-dasharray="0.3 0.2"/>'
    for tag in found.tags:
        yield f'<path d="{"".join(hexagon(s.x, s.y) for s in tag.seats)}" fill="{INK}"/>'
        yield f'<path d="{bevelled(tag.x - tag.width / 2, tag.y - 0.5, tag.width, 1.0)}" fill="{PAPER}"/>'
        yield (
            f'<text x="{tag.x:g}" y="{tag.y + 0.25:g}" {TEXT} fill="{INK}" font-size="0.75" '
            f'text-anchor="middle">'
            f"{escape(tag.text)}</text>"
        )
    for part in found.parts:
        yield f'<path d="{part.leads}" stroke-width="0.12"/>'
        yield f'<path d="{part.body}" fill="{PAPER}"/>'
        if part.marks:
            yield f'<path d="{part.marks}" fill="{INK}" stroke="none"/>'
        yield f'<path d="{"".join(hexagon(s.x, s.y) for s in part.seats)}" fill="{INK}"/>'
        turn = f' transform="rotate(-90 {part.x:g} {part.y:g})"' if part.upright else ""
        yield (
            f'<text x="{part.x:g}" y="{part.y + 0.22:g}"{turn} {TEXT} fill="{INK}" font-size="0.66" '
            f'text-anchor="middle">{escape(part.ref)}</text>'
        )
