"""A schematic as a stand-alone SVG file, from the same glyphs that the screen draws."""

from __future__ import annotations

from xml.sax.saxutils import escape

from ..stages.drawing import Drawing, Name, Symbol

SCALE = 12  # pixels a grid unit
MARGIN = 30
INK, PAPER = "#14223A", "#FBF8F2"
LINE = 16 / SCALE  # height of a line of words in grid units
STYLE = f'fill="{INK}" stroke="none" font-family="sans-serif" font-size="1.1"'


def schematic_svg(drawing: Drawing, title: str) -> str:
    """The drawing in ink on paper, with parts labelled."""
    left, top, right, bottom = drawing.frame
    width, height = (right - left) * SCALE + 2 * MARGIN, (bottom - top) * SCALE + 2 * MARGIN
    out = [
        (
            f'<svg xmlns="http://www.w3.org/2000/svg" viewBox="0 0 {width:g} {height:g}" width="{width:g}" '
            f'height="{height:g}" role="img">'
        ),
        f"<title>{escape(title)}</title>",
        f'<rect width="100%" height="100%" fill="{PAPER}"/>',
        f'<g transform="translate({MARGIN - left * SCALE:g} {MARGIN - top * SCALE:g}) scale({SCALE})" '
        f'fill="none" stroke="{INK}" '
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
        out += _texts(symbol, glyph.holds_at)
        out += [_name(symbol, name) for name in glyph.names]
    out.append("</g></svg>")
    return "\n".join(out) + "\n"


def _text(text: str, x: float, y: float, anchor: str) -> str:
    return f'<text x="{x:g}" y="{y:g}" text-anchor="{anchor}" {STYLE}>{escape(text)}</text>'


def _name(symbol: Symbol, name: Name) -> str:
    """A chip's pin, named inside its box; chips are never turned."""
    return _text(name.text, symbol.x + name.x, symbol.y + name.y, name.anchor)


def _texts(symbol: Symbol, inside_at: tuple[float, float]) -> list[str]:
    """What is written in a symbol and beside it."""
    found = []
    if symbol.inside:
        x, y = inside_at
        found.append(_text(symbol.inside, symbol.x + x, symbol.y + y + 0.4, "middle"))
    if symbol.words is not None:
        words, count = symbol.words, len(symbol.words.lines)
        first = {"top": 0.0, "middle": -count / 2, "bottom": -float(count)}[words.level]
        for k, line in enumerate(words.lines):
            found.append(_text(line, words.x, words.y + (first + k + 0.75) * LINE, words.anchor))
    return found
