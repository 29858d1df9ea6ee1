"""Write the API's OpenAPI document."""

import json
from pathlib import Path
from typing import Any

from api.app import api
from django.core.management.base import BaseCommand, CommandParser


class Command(BaseCommand):
    help = __doc__

    def add_arguments(self, parser: CommandParser) -> None:
        parser.add_argument("file")

    def handle(self, *args: Any, **options: Any) -> None:
        Path(options["file"]).write_text(
            json.dumps(api.get_openapi_schema(path_prefix="/api/"), indent=1, ensure_ascii=False) + "\n",
            "utf-8",
        )
