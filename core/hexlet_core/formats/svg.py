"""A schematic as a stand-alone SVG file, from the same glyphs that the screen draws."""

from __future__ import annotations

from xml.sax.saxutils import escape

from ..stages.drawing import Drawing, Symbol

SCALE = 12  # pixels a grid unit
MARGIN = 30
INK, PAPER = "#14223A", "#FBF8F2"
OFFSET = {
    "right": (1.7, 0.0, "start"),
    "left": (-1.7, 0.0, "end"),
    "above": (0.0, -2.0, "middle"),
    "below": (0.0, 2.6, "middle"),
}


def schematic_svg(drawing: Drawing, title: str) -> str:
    """The drawing in ink on paper, with parts labelled."""
    width, height = drawing.width * SCALE + 2 * MARGIN, drawing.height * SCALE + 2 * MARGIN
    out = [
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" width="{width:g}" '
            f'height="{height:g}" role="img">'
        ),
        f"<title>{escape(title)}</title>",
        f'<rect width="100%" height="100%" fill="{PAPER}"/>',
        f'<g transform="translate({MARGIN} {MARGIN}) scale({SCALE})" fill="none" stroke="{INK}" '
        'stroke-width="0.14" '
        'stroke-linecap="round" stroke-linejoin="round">',
    ]
    for wire in drawing.wires:
        path = "L".join(f"{x:g} {y:g}" for x, y in wire.points)
        out.append(f'<path d="M{path}" stroke-width="{0.22 if wire.load else 0.14}"/>')
    for link in drawing.links:
        path = "L".join(f"{x:g} {y:g}" for x, y in link.points)
        out.append(f'<path d="M{path}" stroke-dasharray="0.3 0.3" stroke-width="0.08"/>')
    out += [f'<circle cx="{x:g}" cy="{y:g}" r="0.3" fill="{INK}" stroke="none"/>' for x, y in drawing.dots]
    for symbol in drawing.symbols:
        glyph = drawing.glyphs[symbol.symbol]
        out.append(f'<g transform="translate({symbol.x:g} {symbol.y:g}) rotate({symbol.turn})">')
        for shape in glyph.shapes:
            fill = INK if shape.solid else PAPER if shape.body else "none"
            out.append(f'<path d="{shape.d}" fill="{fill}" stroke-width="{0.3 if shape.bold else 0.14}"/>')
        out.append("</g>")
        out += _texts(symbol, glyph.inside)
    out.append("</g></svg>")
    return "\n".join(out) + "\n"


def _texts(symbol: Symbol, inside: str) -> list[str]:
    style = f'fill="{INK}" stroke="none" font-family="sans-serif" font-size="1.15"'
    found = []
    if inside:
        found.append(
            f'<text x="{symbol.x:g}" y="{symbol.y + 0.4:g}" text-anchor="middle" '
            f"{style}>{escape(inside)}</text>"
        )
    if symbol.symbol == "pin":
        found.append(
            f'<text x="{symbol.x + 3.3:g}" y="{symbol.y + 0.4:g}" text-anchor="middle" '
            f"{style}>{escape(symbol.label)}</text>"
        )
        return found
    if symbol.symbol in ("rail", "ground"):
        found.append(f'<text x="{symbol.x:g}" y="{symbol.y - 0.7:g}" {style}>{escape(symbol.label)}</text>')
        return found
    dx, dy, anchor = OFFSET[symbol.side]
    for k, text in enumerate(t for t in (symbol.label, symbol.value) if t):
        found.append(
            f'<text x="{symbol.x + dx:g}" y="{symbol.y + dy + 1.5 * k - 0.2:g}" text-anchor="{anchor}" '
            f"{style}>{escape(text)}</text>"
        )
    return found
