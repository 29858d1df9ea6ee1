"""Make the database ready: looked at, brought into its newest form, filled with the demo when it is new.

Run before every start. It looks at the database itself: a folder that was deleted is made anew.
"""

import sys
from typing import Any

from django.core.management import call_command
from django.core.management.base import BaseCommand
from django.db import DatabaseError, connection
from django.db.migrations.executor import MigrationExecutor

from config import safety


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        try:
            self._ready()
        except (DatabaseError, OSError) as error:
            sys.exit(f"The database {safety.file()} cannot be used: {error}. Nothing in it was changed.")

    def _ready(self) -> None:
        new = not safety.file().exists()
        if not new and not safety.sound(safety.file()):
            new = self._replace()
        executor = MigrationExecutor(connection)
        if executor.migration_plan(executor.loader.graph.leaf_nodes()):
            if not new:
                safety.copy("before-migration")
            call_command("migrate", verbosity=0)
        call_command("load_demo", verbosity=0)
        safety.copy_daily()

    def _replace(self) -> bool:
        """Set a broken database aside and bring the newest copy back; whether there was none."""
        aside = safety.set_aside("broken")
        self.stdout.write(f"The database was damaged. It was set aside, unchanged, as {aside}.")
        try:
            found, _ = safety.restore()
        except safety.Unusable:
            self.stdout.write("There is no copy of it: a new one is begun with the demo.")
            return True
        self.stdout.write(f"The newest copy is in force: {found.stem}. What came after it is in the other.")
        return False
