"""The command line: everything the core does, without the server.

python -m hexlet_core evaluate DESIGN.json
python -m hexlet_core confirm DESIGN.json
python -m hexlet_core rehearse DESIGN.json [--script S.json] [--out waves.csv]
python -m hexlet_core solve NETLIST.json [--csv]
python -m hexlet_core plan DESIGN.json [--boards 30,63] [--kept PLAN.json] [--out plan.json] [--svg board.svg]
python -m hexlet_core plan DESIGN.json --check PLAN.json
python -m hexlet_core parts | kinds | schema [design|netlist|script|plan]

Errors go to stderr, one line each with the field named; the exit status is then 2.
"""

from __future__ import annotations

import argparse
import json
import sys
from collections.abc import Callable
from pathlib import Path
from typing import TYPE_CHECKING, Any

from .errors import DocumentError, HexletError, Problem

if TYPE_CHECKING:
    from .build.boards import Board

LARGEST = 5_000_000  # bytes
SCHEMAS = ("design", "netlist", "script", "plan")
WRONG = 1  # the exit status where a plan is not the design's
INTERRUPTED = 130


def _read(path: str) -> Any:
    from .fields import read_json

    file = Path(path)
    try:
        if not file.is_file():
            raise DocumentError(Problem(path[:80], "There is no such file."))
        if file.stat().st_size > LARGEST:
            raise DocumentError(
                Problem(
                    path, f"The file is larger than {LARGEST // 1_000_000} MB, which no document of ours is."
                )
            )
        return read_json(file.read_bytes())
    except (OSError, ValueError) as error:
        raise DocumentError(Problem(path[:80], f"This file cannot be read: {_reason(error)}.")) from None


def _write(path: str, text: str) -> None:
    try:
        Path(path).write_text(text, "utf-8")
    except (OSError, ValueError) as error:
        raise DocumentError(
            Problem("--out", f"This file cannot be written: {_reason(error)}.", got=path[:80])
        ) from None


def _reason(error: Exception) -> str:
    return (getattr(error, "strerror", None) or str(error)).lower()


def _print(data: Any) -> None:
    print(json.dumps(data, ensure_ascii=False, indent=1))


def _evaluate(args: argparse.Namespace) -> None:
    from .design.document import read_design
    from .design.evaluate import evaluate
    from .design.study import study

    print(evaluate(study(read_design(_read(args.file)))).model_dump_json(indent=1))


def _confirm(args: argparse.Namespace) -> None:
    from .design.confirm import confirm
    from .design.document import read_design
    from .design.study import study

    _print([found.model_dump() for found in confirm(study(read_design(_read(args.file))))])


def _rehearse(args: argparse.Namespace) -> None:
    from .design.document import read_design
    from .design.script import Script
    from .design.study import study
    from .fields import read_document
    from .formats.tables import waves_csv
    from .rehearsal.rehearse import rehearse, waves_of
    from .rehearsal.script import script_of

    here = study(read_design(_read(args.file)))
    script, _ = script_of(here, read_document(Script, _read(args.script)) if args.script else None)
    if args.out:
        _write(args.out, waves_csv(waves_of(here, script)))
    else:
        print(rehearse(here, script).model_dump_json(indent=1))


def _solve(args: argparse.Namespace) -> None:
    from .formats.netlist import read_netlist, solve_document
    from .formats.tables import answer_csv

    answer = solve_document(read_netlist(_read(args.file)))
    print(answer_csv(answer) if args.csv else answer.model_dump_json(indent=1))


def _plan(args: argparse.Namespace) -> int:
    """The board's plan, or the proof of one."""
    from .build.bodies import wanted
    from .build.layout import read_plan
    from .build.planner import planned
    from .build.proof import proof
    from .design.document import read_design
    from .design.study import study
    from .formats.board import board_svg

    here = study(read_design(_read(args.file)))
    if args.check:
        findings = proof(read_plan(_read(args.check)), wanted(here))
        _print([f.model_dump() for f in findings])
        return WRONG if findings else 0
    kept = read_plan(_read(args.kept)) if args.kept else None
    last = None
    for last in planned(here, _boards(args.boards), kept, kept.pinned if kept else ()):
        print(f"{last.stage}: {last.says}", file=sys.stderr)
    if last is None or last.view is None:
        raise DocumentError(*(last.problems if last else ()))
    if args.svg:
        _write(args.svg, board_svg(last.view.plan, here.design.name))
    text = last.view.plan.model_dump_json(indent=1)
    if args.out:
        _write(args.out, text + "\n")
    elif not args.svg:
        print(text)
    return 0


def _boards(text: str) -> tuple[Board, ...]:
    from .build.boards import OWNED, Board

    sizes = [s.strip() for s in text.split(",") if s.strip()]
    wrong = next((s for s in sizes if s not in ("30", "63")), None)
    if wrong is not None:
        raise DocumentError(Problem("--boards", "A board has 30 or 63 positions.", got=wrong[:20]))
    return tuple(Board.model_validate({"positions": int(s)}) for s in sizes) or OWNED


def _parts(args: argparse.Namespace) -> None:
    from .cards import catalogue

    _print([c.model_dump(mode="json") for c in catalogue().values()])


def _kinds(args: argparse.Namespace) -> None:
    from .stages.registry import KINDS, kind_name

    _print(
        [
            {
                "kind": kind_name(k),
                "role": k.role,
                "title": k.title,
                "purpose": k.purpose,
                "choose": k.choose,
                "avoid": k.avoid,
            }
            for k in KINDS
        ]
    )


def _schema(args: argparse.Namespace) -> None:
    if args.of == "netlist":
        from .formats.netlist import NetlistDocument as Model
    elif args.of == "plan":
        from .build.layout import BoardPlan as Model  # type: ignore[assignment]
    elif args.of == "script":
        from .design.script import Script as Model  # type: ignore[assignment]
    else:
        from .design.document import Design as Model  # type: ignore[assignment]
    _print(Model.model_json_schema())


def _parser() -> argparse.ArgumentParser:
    parser = argparse.ArgumentParser(
        prog="hexlet_core", description=__doc__.partition("\n")[0] if __doc__ else ""
    )
    commands = parser.add_subparsers(dest="command", required=True)

    def add(name: str, do: Callable[[argparse.Namespace], int | None]) -> argparse.ArgumentParser:
        sub = commands.add_parser(name)
        sub.set_defaults(do=do)
        return sub

    add("evaluate", _evaluate).add_argument("file")
    add("confirm", _confirm).add_argument("file")
    rehearse = add("rehearse", _rehearse)
    rehearse.add_argument("file")
    rehearse.add_argument("--script")
    rehearse.add_argument("--out")
    solve = add("solve", _solve)
    solve.add_argument("file")
    solve.add_argument("--csv", action="store_true")
    plan = add("plan", _plan)
    plan.add_argument("file")
    for name in ("--check", "--kept", "--out", "--svg"):
        plan.add_argument(name)
    plan.add_argument("--boards", default="")
    add("parts", _parts)
    add("kinds", _kinds)
    add("schema", _schema).add_argument("of", nargs="?", choices=SCHEMAS, default="design")
    return parser


def main() -> int:
    """Run, and turn the core's errors into messages."""
    for stream in (sys.stdout, sys.stderr):  # a name with half a character in it is shown, not tripped over
        if hasattr(stream, "reconfigure"):
            stream.reconfigure(errors="backslashreplace")
    try:
        args = _parser().parse_args()
        status: int = args.do(args) or 0
        sys.stdout.flush()
        return status
    except HexletError as error:
        for problem in error.problems:
            print(problem, file=sys.stderr)
        return 2
    except BrokenPipeError:
        sys.stderr.close()
    except OSError as error:  # the disk is full, the output closed
        print(f"The answer cannot be written: {_reason(error)}.", file=sys.stderr)
        return 2
    except KeyboardInterrupt:
        print("Stopped.", file=sys.stderr)
        return INTERRUPTED
    return 0


if __name__ == "__main__":
    raise SystemExit(main())
