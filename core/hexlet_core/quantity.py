"""Engineering shorthand in and out: 4k7, 4.7k, 33u, 0.1uF, 3.3 V, 12m.

Rules for reading, all stated here and nowhere else:

* A prefix letter may stand for the point: 4k7 = 4.7k, 2R2 = 2.2, 3V3 = 3.3.
* m is milli, M is mega; "meg" in any case is mega too. u, µ and μ are all micro; K is taken as k.
* A unit may follow and must then be the field's own.
* A comma is a decimal comma, unless exactly three digits follow it: then it could also part
  thousands, and the entry is refused with both readings named.
"""

from __future__ import annotations

import math
import re
from dataclasses import dataclass
from functools import lru_cache
from typing import Final

from quantiphy import Quantity

from .errors import EntryError, Problem

PREFIX: Final = "fpnumkMGT"
UNIT_NAMES: Final[dict[str, tuple[str, ...]]] = {
    "Ω": ("Ω", "Ω", "ohm", "ohms", "Ohm", "R"),
    "F": ("F",),
    "H": ("H",),
    "V": ("V", "volt", "volts"),
    "A": ("A", "amp", "amps"),
    "W": ("W",),
    "s": ("s", "sec"),
    "Hz": ("Hz", "hz"),
    "°C": ("°C", "C", "degC"),
    "K/W": ("K/W", "°C/W"),
    "C": ("C",),
    "J": ("J",),
    "%": ("%",),
    "A²s": ("A²s", "A2s"),
    "Ah": ("Ah", "A·h"),
    "V/K": ("V/K", "V/°C"),
    "": (),
}
_NUMBER: Final = re.compile(
    r"(?P<sign>[+-]?)(?P<whole>\d*)(?:(?P<mark>[.,])(?P<part>\d+))?(?:[eE](?P<exp>[+-]?\d+))?"
    r"\s*(?P<tail>[^\d\s].*)?$"
)
# Three digits as they are printed on a part: two and how many zeros follow, of picofarads or ohms.
_PRINTED = re.compile(r"(?P<digits>[1-9]\d)(?P<zeros>[0-6])$")
_INFIX: Final = re.compile(
    r"(?P<sign>[+-]?)(?P<whole>\d+)(?P<letter>[A-Za-zµμΩΩ]+)(?P<part>\d+)\s*(?P<unit>[^\d]*)$"
)


def _prefix_of(text: str) -> str | None:
    """The one-letter prefix meant by `text`, or None."""
    if text.lower() == "meg":
        return "M"
    text = text.replace("µ", "u").replace("μ", "u").replace("K", "k")
    return text if text in PREFIX and len(text) <= 1 else None


def _split_tail(tail: str, unit: str) -> str | None:
    """The prefix in what follows a number ('k', 'kΩ', 'Ω', ''), or None if it is not prefix + unit."""
    tail = tail.strip()
    for name in sorted((*UNIT_NAMES.get(unit, (unit,)), ""), key=len, reverse=True):
        if name and not tail.endswith(name):
            continue
        found = _prefix_of(tail[: len(tail) - len(name)].strip())
        if found is not None:
            return found
    return None


def _known_unit(tail: str) -> str | None:
    """The unit that `tail` ends with, if it is one of ours."""
    names = [(name, unit) for unit, all_names in UNIT_NAMES.items() for name in all_names]
    for name, unit in sorted(names, key=lambda pair: -len(pair[0])):
        if tail.endswith(name) and _prefix_of(tail[: len(tail) - len(name)].strip()) is not None:
            return unit
    return None


def parse(text: str, unit: str = "", field: str = "", marked: bool = False) -> float:
    """The value of an entry in SI units.

    Args:
        text: what was typed, such as "4k7" or "3.3 V".
        unit: the field's unit, a key of `UNIT_NAMES`.
        field: path put into the error.
        marked: whether three digits are what is printed on a trimmer; on a capacitor they always are.
    Returns:
        The value [`unit`].
    Raises:
        EntryError: not understood or wrong unit; carries a suggestion where one is likely.

    >>> parse("4k7", "Ω"), parse("33µ", "F"), parse("10meg", "Ω")
    (4700.0, 3.3e-05, 10000000.0)
    """
    raw = text.strip().replace("−", "-").replace("\u00a0", " ")
    printed = _PRINTED.match(raw)
    if printed and (unit == "F" or (marked and printed["zeros"] != "0")):
        return _scaled(f"{printed['digits']}e{printed['zeros']}", "p" if unit == "F" else "")
    return _typed(text, raw, unit, field)


def _typed(text: str, raw: str, unit: str, field: str) -> float:
    """The value of what is typed in shorthand, in SI units."""

    def refuse(message: str, suggestion: str | None = None) -> EntryError:
        return EntryError(Problem(field, message, got=f"“{text.strip()}”", suggestion=suggestion))

    if not raw:
        raise EntryError(Problem(field, "Nothing was entered. Type a value such as " + _example(unit) + "."))
    infix = _INFIX.match(raw)
    if infix and infix["letter"].lower() != "e":
        letter = infix["letter"]
        prefix = "" if letter in UNIT_NAMES.get(unit, ()) else _prefix_of(letter)
        if prefix is None or (infix["unit"] and _split_tail(infix["unit"], unit) != ""):
            extra = infix["unit"].strip()
            if prefix is not None and _prefix_of(extra):
                shorter = raw[: infix.start("unit")].strip()
                raise refuse(f"One {extra} too many.", shorter)
            raise refuse(f"“{letter}” is not a prefix or {_unit_words(unit)}.")
        number = f"{infix['sign']}{infix['whole']}.{infix['part']}"
        return _scaled(number, prefix)
    match = _NUMBER.match(raw)
    if not match or not (match["whole"] or match["part"]):
        raise refuse("That is not a number. Type a value such as " + _example(unit) + ".")
    whole, part = match["whole"] or "0", match["part"] or ""
    if match["mark"] == "," and len(part) == 3 and whole != "0":
        raise refuse(f"The comma could mean {whole}.{part} or {whole}{part}. Use a point, or leave it out.")
    tail = (match["tail"] or "").strip()
    prefix = _split_tail(tail, unit)
    number = f"{match['sign']}{whole}.{part or '0'}e{match['exp'] or 0}"
    if prefix is None:
        other = _known_unit(tail)
        if other is not None:
            raise refuse(
                f"{_unit_words(other).capitalize()} where {_unit_words(unit)} {'are' if unit else 'is'} "
                "wanted."
            )
        if re.search(r"\d", tail):
            raise refuse("There is more than one number here. Type one value.")
        raise refuse(f"“{tail}” is not a prefix or {_unit_words(unit)}.")
    return _scaled(number, prefix)


def _scaled(number: str, prefix: str) -> float:
    """`number` × `prefix`, converted in one go so that 33u is exactly 33e-6."""
    mantissa, _, exponent = number.partition("e")
    power = float(f"1e{int(exponent or 0)}")
    return (
        float(f"{mantissa}e{int(exponent or 0)}")
        if not prefix
        else float(Quantity(mantissa + prefix)) * power
    )


def _example(unit: str) -> str:
    return {"Ω": "4k7", "V": "3.3", "A": "20m", "s": "45 or 10m", "F": "33u", "H": "0.45"}.get(unit, "12m")


def _unit_words(unit: str) -> str:
    return {
        "Ω": "ohms", "V": "volts", "A": "amps", "F": "farads", "H": "henries", "s": "seconds", "W": "watts",
        "Hz": "hertz", "°C": "degrees", "%": "percent", "J": "joules", "C": "coulombs",
    }.get(unit, unit or "a plain number")  # fmt: skip


@lru_cache(maxsize=20_000)  # one answer asks for the same few hundred values again and again
def show(value: float, unit: str = "", digits: int = 3) -> str:
    """A value as a person reads it: "4.7 kΩ" for voltages and the like, "4k7" for parts (`show_part`).

    >>> show(0.0457, "A"), show(10.8, "V"), show(float("inf"), "V")
    ('45.7 mA', '10.8 V', 'no limit')
    """
    if math.isinf(value):
        return "no limit"
    if unit in ("°C", "%", "K/W", "°") or (unit == "A²s" and 0.05 <= abs(value) < 10_000):
        return f"{Quantity(value).render(form='fixed', prec=1, strip_zeros=True)} {unit}".replace(" %", "%")
    # Kiloseconds and kilovolts read worse than plain numbers on a bench.
    if 1 <= abs(value) < 10_000 and unit in ("V", "s", ""):
        text = f"{float(f'{value:.{digits}g}'):,.6g}"
        return f"{text} {unit}".strip()
    if abs(value) < 1e-15:
        return f"0 {unit}".strip()
    text = str(Quantity(value, unit or "").render(prec=digits - 1, strip_zeros=True))
    return re.sub(r"(?<=[ \d])u(?=\D?$|[A-ZΩsC])", "µ", text)


@lru_cache(maxsize=20_000)
def show_part(value: float) -> str:
    """A part's value as it is written beside the part: 220, 4k7, 100k, 4u7.

    >>> show_part(4700.0), show_part(220.0), show_part(2.2), show_part(4.7e-6), show_part(1e5)
    ('4k7', '220', '2R2', '4u7', '100k')
    """
    text = str(Quantity(value).render(prec=3, strip_zeros=True)).replace("μ", "u").replace("µ", "u")
    match = re.fullmatch(r"(-?\d+)(?:\.(\d+))?([A-Za-z]?)", text)
    if not match:
        return text
    whole, part, prefix = match.groups()
    return f"{whole}{prefix or 'R'}{part}" if part else f"{whole}{prefix}"


@dataclass(frozen=True)
class Interval:
    """A closed interval [low, high] with its typical value, in SI units."""

    low: float
    typical: float
    high: float

    @classmethod
    def spread(cls, value: float, tolerance: float) -> Interval:
        """`value` ± `tolerance` (a fraction)."""
        return cls(value * (1 - tolerance), value, value * (1 + tolerance))


# --- preferred numbers (IEC 60063) -------------------------------------------------------------
# E24 and below are a table because a handful of its members are not the rounded powers.
_E24: Final = (
    1.0, 1.1, 1.2, 1.3, 1.5, 1.6, 1.8, 2.0, 2.2, 2.4, 2.7, 3.0,
    3.3, 3.6, 3.9, 4.3, 4.7, 5.1, 5.6, 6.2, 6.8, 7.5, 8.2, 9.1,
)  # fmt: skip
SERIES: Final[dict[str, tuple[float, ...]]] = {
    "E6": _E24[::4],
    "E12": _E24[::2],
    "E24": _E24,
    "E96": tuple(round(10 ** (k / 96), 2) for k in range(96)),
}


def within(low: float, high: float, series: str = "E24") -> list[float]:
    """Preferred values in [low, high], ascending.

    >>> within(172, 300, "E12")
    [180.0, 220.0, 270.0]
    """
    if not (0 < low <= high) or math.isinf(high):
        return []
    decades = range(math.floor(math.log10(low)) - 1, math.floor(math.log10(high)) + 2)
    values = (float(f"{m * 10.0**d:.6g}") for d in decades for m in SERIES[series])
    return [v for v in values if low * (1 - 1e-9) <= v <= high * (1 + 1e-9)]


def floor(value: float, series: str = "E24") -> float:
    """The largest preferred value not above `value`."""
    return within(value / 11, value, series)[-1]


def ceil(value: float, series: str = "E24") -> float:
    """The smallest preferred value not below `value`."""
    return within(value, value * 11, series)[0]


def nearest(value: float, series: str = "E24") -> float:
    """The preferred value nearest to `value` by ratio."""
    return min((floor(value, series), ceil(value, series)), key=lambda v: abs(math.log(v / value)))
