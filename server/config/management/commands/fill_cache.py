"""Work out what the shelf shows of every design, so that the first page after a start does not
wait for it.
"""

from typing import Any

from api.bench import bench_of
from django.core.management.base import BaseCommand
from workshop.models import Design


class Command(BaseCommand):
    help = __doc__

    def handle(self, *args: Any, **options: Any) -> None:
        for design in Design.objects.all():
            bench_of(design)
