"""The bench notebook: build steps done, and bench runs with their readings."""

from django.db import models
from workshop.models import Design, Revision


class StepDone(models.Model):
    """A build step somebody has done."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="steps_done")
    step = models.CharField(max_length=60)
    done = models.DateTimeField(auto_now_add=True)

    class Meta:
        constraints = [models.UniqueConstraint(fields=["design", "step"], name="a_step_is_done_once")]

    def __str__(self) -> str:
        return self.step


class KeptPlan(models.Model):
    """A board plan that somebody builds by; the newest counts, the others are there to go back to."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="plans")
    plan = models.JSONField()
    undone_steps = models.JSONField(
        default=list
    )  # what keeping it took back, to be done again if it is undone
    kept = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-id"]

    def __str__(self) -> str:
        return f"plan {self.pk} of {self.design}"


class BenchRun(models.Model):
    """One session of readings on one revision; `supply` is what the supply read [V]."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="runs")
    revision = models.ForeignKey(Revision, on_delete=models.CASCADE, related_name="runs")
    supply = models.FloatField(null=True)
    started = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-started", "-id"]

    def __str__(self) -> str:
        return f"run {self.pk} of {self.design}"


class Reading(models.Model):
    """One reading at one rung. A retake is a new row; the newest that is not undone counts."""

    run = models.ForeignKey(BenchRun, on_delete=models.CASCADE, related_name="readings")
    rung = models.CharField(max_length=60)
    value = models.FloatField(null=True)
    over_range = models.BooleanField(default=False)
    skipped = models.BooleanField(default=False)
    undone = models.BooleanField(default=False)
    taken = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.rung}: {self.value}"
