"""Bad inputs, made from good ones: every field of every good request spoilt in every way."""

from __future__ import annotations

import copy
import json
from collections.abc import Iterator
from dataclasses import dataclass
from typing import Any

# Values that break what takes them for granted. JSON text, since some of them Python would not write.
NASTY: dict[str, str] = {
    "nothing": "null",
    "310 digits": "1" + "0" * 310,
    "4300 digits": "9" * 4300,
    "5000 digits": "9" * 5000,
    "tiny": "1e-320",
    "infinite": "1e999",
    "not a number": "NaN",
    "below nothing": "-1",
    "half a character": '"\\ud800"',
    "half in shorthand": '"4k7\\udfff"',
    "superscript": '"²"',
    "full width digit": '"７"',
    "control": '"a\\u0000b"',
    "escape": '"\\u001b[31m"',
    "formula": '"=1+1"',
    "long": '"' + "x" * 100_000 + '"',
    "empty": '""',
    "true": "true",
    "list": "[]",
    "object": "{}",
    "deep": "[" * 400 + "]" * 400,
    "many": "[" + ",".join(["0"] * 20_000) + "]",
    "markup": '"<svg onload=x>&\\""',
    "path": '"../../etc/passwd"',
    "dunder": '{"__class__":{"__init__":1}}',
}
PLACE = "\x00here\x00"
HEADERS = (  # of card files
    "id,kind,title,forward,forward.0.current",
    "id,kind,title,forward.².current",
    "id,kind,title,forward.-1.current",
    "id,kind,title,forward.999999999.current",
    "id,kind,title," + ".".join(["a"] * 500),
    "id,kind,title," + "b" * 20_000,
    "id,id,kind,kind",
    "id,kind,title," + ",".join(f"x{k}" for k in range(5000)),
    "\ufeffid,kind,title,value",
    "",
    ",,,,",
    "id;kind;title",
    'id,"kind',
    "id,kind,title,__class__",
    "id,kind,title,ratings.resistive.run.x.y",
)
BODIES = (  # of a JSON endpoint, sent as they stand
    b"",
    b"{",
    b"[]",
    b"null",
    b"7",
    b'"text"',
    b"\xff\xfe\x00",
    b"\xef\xbb\xbf{}",
    b'{"a":' * 3000,
    b"{" + b'"x":1,' * 20000 + b'"y":2}',
    b'{"document":{"document":' + b"[" * 100_000,
)


@dataclass(frozen=True)
class Shot:
    """One request: what it is about, and what is sent."""

    about: str
    method: str
    path: str
    body: bytes = b""
    kind: str = "application/json"


def places(data: Any, at: tuple[Any, ...] = (), deep: int = 5) -> Iterator[tuple[Any, ...]]:
    """The path of every value in a document, down to a depth."""
    items = data.items() if isinstance(data, dict) else enumerate(data) if isinstance(data, list) else ()
    for key, value in items:
        yield (*at, key)
        if deep > 1:
            yield from places(value, (*at, key), deep - 1)


def spoilt(good: Any, at: tuple[Any, ...], nasty: str) -> bytes:
    """A good document with one value replaced by JSON text."""
    data = copy.deepcopy(good)
    target = data
    for step in at[:-1]:
        target = target[step]
    target[at[-1]] = PLACE
    return json.dumps(data).replace(json.dumps(PLACE), nasty).encode()


def shots(good: dict[str, tuple[str, str, Any]], every: int = 1) -> Iterator[Shot]:
    """Every bad request, or every `every`-th: `good` are method, path and body by what they are about."""
    found = (
        shot for about, (method, path, body) in good.items() for shot in _about(about, method, path, body)
    )
    yield from (shot for k, shot in enumerate(found) if k % every == 0)
    yield from (shot for k, shot in enumerate(_others()) if k % max(every // 10, 1) == 0)


def _about(about: str, method: str, path: str, body: Any) -> Iterator[Shot]:
    for raw in BODIES:
        yield Shot(f"{about}: body {raw[:12]!r}", method, path, raw)
    for kind in ("multipart/form-data; boundary=x", "text/plain", "application/xml", ""):
        yield Shot(f"{about}: sent as {kind or 'nothing'}", method, path, json.dumps(body).encode(), kind)
    for k, at in enumerate(places(body)):
        names = list(NASTY)
        chosen = names if len(at) <= 2 else [names[(k * 7 + j * 5) % len(names)] for j in range(4)]
        for name in dict.fromkeys(chosen):
            yield Shot(
                f"{about}: {'.'.join(map(str, at))} {name}", method, path, spoilt(body, at, NASTY[name])
            )


def _others() -> Iterator[Shot]:
    for header in HEADERS:
        rows = "\n".join([header, "a,diode,A," + "1," * 10, "b,resistor,B,4k7", '"'])
        body = json.dumps({"name": "cards.csv", "text": rows}).encode()
        yield Shot(f"card file {header[:30]!r}", "POST", "/api/drawer/read", body)
    for text in ("[" * 50_000, '[{"id":1e999}]', "NaN", "[]", '[{"kind":"npn"}]', "\ufeff[]", '{"cards":{}}'):
        body = json.dumps({"name": "cards.json", "text": text}).encode()
        yield Shot(f"card JSON {text[:20]!r}", "POST", "/api/drawer/read", body)
        yield Shot(f"design {text[:20]!r}", "POST", "/api/import", body)
    for path in (
        "/api/designs/²",
        "/api/designs/%ED%A0%80",
        "/api/designs/00000000-0000-0000-0000-00000000000²",
        "/api/designs/../../etc/passwd",
        "/api/cards/%00",
        "/api/cards/" + "x" * 5000,
        "/api/cards/²",
        "/api/jobs/%ff",
        "/api/nothing",
        "/api/designs/00000000-0000-0000-0000-000000000000/export/²",
        "/api/schema/nothing",
        "/api/drawer/export/xlsx",
        "/static/../server/config/settings.py",
        "/static/%2e%2e/manage.py",
        "/static/²",
        "/%00",
        "/" + "a/" * 2000,
    ):
        for method in ("GET", "DELETE", "PUT", "POST"):
            yield Shot(f"{method} {path[:40]}", method, path, b"{}")
