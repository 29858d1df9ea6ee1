"""Random requests as a published schema describes them, the same for the same seed."""

from __future__ import annotations

import json
import random
from collections.abc import Callable, Iterator
from typing import Any
from urllib.parse import quote

WORDS = ("", "b2", "b2.fully_on", "blocks.b2.card", "coil", "12.6", "4k7", "x" * 90, "²", "a\u0000b", "=1")


DEEP = 4  # below this nothing is put in that need not be


class Maker:
    """Values for a schema's types."""

    def __init__(self, schema: dict[str, Any], draw: random.Random) -> None:
        self.schema, self.draw = schema, draw

    def value(self, of: dict[str, Any], deep: int = 0) -> Any:
        """Something that a schema describes, or nearly."""
        if "$ref" in of:
            return self.value(self.schema["components"]["schemas"][of["$ref"].rsplit("/", 1)[-1]], deep)
        choices = of.get("anyOf") or of.get("oneOf")
        if choices:
            return self.value(self.draw.choice(choices), deep)
        fixed = [of["const"]] if "const" in of else of.get("enum")
        return self.draw.choice(fixed) if fixed else self._made(of, deep)

    def _made(self, of: dict[str, Any], deep: int) -> Any:
        made: dict[str, Callable[[], Any]] = {
            "object": lambda: self._object(of, deep),
            "array": lambda: [self.value(of.get("items", {}), deep + 1) for _ in range(self._few(deep))],
            "integer": lambda: round(self._number(of)),
            "number": lambda: self._number(of),
            "boolean": lambda: self.draw.random() < 0.5,
            "null": lambda: None,
        }
        kind = "object" if "properties" in of else of.get("type")
        return made.get(str(kind), lambda: self.draw.choice(WORDS))()

    def _few(self, deep: int) -> int:
        return self.draw.randint(0, 3 if deep < DEEP else 0)

    def _number(self, of: dict[str, Any]) -> float:
        low, high = of.get("minimum", -5), of.get("maximum", 1e6)
        return float(self.draw.choice((low, high, self.draw.uniform(low, high), 0, -1)))

    def _object(self, of: dict[str, Any], deep: int) -> dict[str, Any]:
        wanted, named = set(of.get("required", ())), of.get("properties", {})
        return {
            name: self.value(inner, deep + 1)
            for name, inner in named.items()
            if name in wanted or (self.draw.random() < 0.5 and deep < DEEP)
        }


def asked_by_schema(
    schema: dict[str, Any], draw: random.Random, count: int, designs: list[str]
) -> Iterator[tuple[str, str, str, bytes]]:
    """Method, path, its template and the body of so many requests."""
    make = Maker(schema, draw)
    operations = [(m, p, op) for p, methods in schema["paths"].items() for m, op in methods.items()]
    for k in range(count):
        method, template, operation = operations[k % len(operations)]
        path = template
        for parameter in operation.get("parameters", ()):
            value = make.value(parameter["schema"])
            if parameter["name"] == "design_id":
                value = draw.choice([*designs, "00000000-0000-0000-0000-000000000000", "x"])
            text = str(value) or "x"
            path = path.replace("{" + parameter["name"] + "}", quote(text, safe=""))
        content = operation.get("requestBody", {}).get("content", {}).get("application/json")
        body = json.dumps(make.value(content["schema"])).encode() if content else b""
        yield method.upper(), path, template, body
