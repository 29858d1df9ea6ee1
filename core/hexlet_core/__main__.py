"""The command line: everything the core does, without the server.

python -m hexlet_core evaluate DESIGN.json
python -m hexlet_core rehearse DESIGN.json [--script S.json] [--out waves.csv]
python -m hexlet_core solve NETLIST.json [--csv]
python -m hexlet_core parts | kinds | schema [design|netlist|script]

Errors go to stderr with the field named; the exit status is then 2.
"""

from __future__ import annotations

import argparse
import json
import sys
from pathlib import Path
from typing import Any

from pydantic import BaseModel

from .cards import Drawer, catalogue
from .design.document import Design, read_design
from .errors import DocumentError, HexletError, Problem
from .fields import read_document, read_json
from .formats.netlist import NetlistDocument, read_netlist, solve_document
from .formats.tables import answer_csv, waves_csv
from .rehearsal.script import Script, presets
from .stages.registry import KINDS, kind_name

LARGEST = 5_000_000  # bytes
SCHEMAS: dict[str, type[BaseModel]] = {"design": Design, "netlist": NetlistDocument, "script": Script}


def _read(path: str) -> Any:
    file = Path(path)
    if not file.is_file():
        raise DocumentError(Problem(path, "There is no such file."))
    if file.stat().st_size > LARGEST:
        raise DocumentError(Problem(path, f"The file is larger than {LARGEST // 1_000_000} MB, which no document of ours is."))
    return read_json(file.read_bytes())


def _print(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1))


def run(argv: list[str]) -> None:
    """Parse and do one command."""
    parser = argparse.ArgumentParser(prog="hexlet_core", description=__doc__.partition("\n")[0] if __doc__ else "")
    commands = parser.add_subparsers(dest="command", required=True)
    for name in ("evaluate", "rehearse", "solve"):
        sub = commands.add_parser(name)
        sub.add_argument("file")
        if name == "rehearse":
            sub.add_argument("--script")
            sub.add_argument("--out")
        if name == "solve":
            sub.add_argument("--csv", action="store_true")
    commands.add_parser("parts")
    commands.add_parser("kinds")
    commands.add_parser("schema").add_argument("of", nargs="?", choices=sorted(SCHEMAS), default="design")
    args = parser.parse_args(argv)

    if args.command == "evaluate":
        from .design.evaluate import evaluate

        print(evaluate(read_design(_read(args.file))).model_dump_json(indent=1))
    elif args.command == "rehearse":
        from .rehearsal.rehearse import rehearse, waves_of

        design = read_design(_read(args.file))
        script = read_document(Script, _read(args.script)) if args.script else presets(design)[0]
        if args.out:
            Path(args.out).write_text(waves_csv(waves_of(design, script, Drawer())), "utf-8")
        else:
            print(rehearse(design, script).model_dump_json(indent=1))
    elif args.command == "solve":
        answer = solve_document(read_netlist(_read(args.file)))
        print(answer_csv(answer) if args.csv else answer.model_dump_json(indent=1))
    elif args.command == "parts":
        _print([c.model_dump(mode="json") for c in catalogue().values()])
    elif args.command == "kinds":
        _print(
            [
                {"kind": kind_name(k), "role": k.role, "title": k.title, "purpose": k.purpose, "choose": k.choose, "avoid": k.avoid}
                for k in KINDS
            ]
        )
    else:
        _print(SCHEMAS[args.of].model_json_schema())


def main() -> int:
    """Run, and turn the core's errors into messages."""
    try:
        run(sys.argv[1:])
    except HexletError as error:
        for problem in error.problems:
            print(problem, file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
