"""Steps and readings hang on blocks and parts, not on references: what was kept is renamed."""

from typing import Any

from django.db import migrations


def rename(apps: Any, schema_editor: Any) -> None:
    from hexlet_core.design.document import read_design
    from hexlet_core.design.study import study
    from hexlet_core.errors import HexletError

    from notebook.renamed import rung_names, step_names

    for step in apps.get_model("notebook", "StepDone").objects.select_related("design__current"):
        try:
            here = study(read_design(step.design.current.document))
            new = step_names(here).get(step.step, step.step)
        except HexletError:
            continue
        if not step.design.steps_done.filter(step=new).exists():
            step.step = new
            step.save()
    for reading in apps.get_model("notebook", "Reading").objects.select_related("run__revision"):
        try:
            here = study(read_design(reading.run.revision.document))
            reading.rung = rung_names(here).get(reading.rung, reading.rung)
            reading.save()
        except HexletError:
            continue


class Migration(migrations.Migration):
    dependencies = [("notebook", "0001_initial")]
    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
