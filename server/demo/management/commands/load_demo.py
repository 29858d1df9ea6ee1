"""Load the Quillmoor shed. Safe to run again: what is there already is left as it is."""

from typing import Any

from django.core.management.base import BaseCommand
from django.db import transaction
from drawer.actions import put
from drawer.models import Item
from hexlet_core.cards import resistor_cards
from hexlet_core.design.study import study
from notebook import actions as notebook
from workshop import actions
from workshop.models import Design

from demo import quillmoor


class Command(BaseCommand):
    help = __doc__

    @transaction.atomic
    def handle(self, *args: Any, **options: Any) -> None:
        if Item.objects.exists() or Design.objects.exists():
            if options["verbosity"]:
                self.stdout.write("Demo data is there already.")
            return
        for card in resistor_cards(quillmoor.RESISTORS):
            put(card.id, quillmoor.RESISTORS[card.value], card.model_dump(mode="json"))
        for card_id, stock in quillmoor.STOCK.items():
            put(card_id, stock)
        for document in reversed(quillmoor.others()):
            actions.create(document)
        first, *later = quillmoor.fan_history()
        design = actions.create(first[1], first[0])
        for label, document in later:
            design = actions.save(design.id, document.model_dump(mode="json"), design.stamp, label)
        from hexlet_core.build.planner import planned  # its solver takes a second to load

        *_, last = planned(study(later[-1][1]))
        assert last.view is not None
        notebook.keep_plan(design, last.view.plan)
        for step in last.view.steps[: quillmoor.STEPS_DONE]:
            notebook.tick(design, step.id, True)
        notebook.start_run(design, 12.71)
        notebook.read(design, "b1.pin.active", "3.28", "V", over_range=False, skipped=False)
        design.save()
        if options["verbosity"]:
            self.stdout.write("Loaded the Quillmoor shed.")
