"""Bring a copy of the database back: the newest, or the one named. What is in force is set aside."""

import sys
from typing import Any

from django.core.management.base import BaseCommand, CommandParser

from config import safety


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("name", nargs="?", help="a copy's name; --list names them")
        parser.add_argument("--list", action="store_true", help="only name the copies")

    def handle(self, *args: Any, **options: Any) -> None:
        if options["list"]:
            self.stdout.write("\n".join(p.stem for p in safety.copies()) or "There is no copy yet.")
            return
        try:
            found, aside = safety.restore(options["name"] or None)
        except safety.Unusable as error:
            sys.exit(str(error))
        self.stdout.write(f"{found.stem} is in force. What was before is kept as {aside}.")
