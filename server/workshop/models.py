"""Designs and their revisions."""

import uuid

from django.db import models
from django.db.models import Q


class Design(models.Model):
    """A design; `current` is the revision in force, `stamp` counts every change to that, undo included."""

    id = models.UUIDField(primary_key=True, default=uuid.uuid4, editable=False)
    name = models.CharField(max_length=80)
    current = models.ForeignKey("Revision", null=True, on_delete=models.PROTECT, related_name="+")
    stamp = models.PositiveIntegerField(default=0)
    created = models.DateTimeField(auto_now_add=True)
    touched = models.DateTimeField(auto_now=True)
    deleted = models.DateTimeField(null=True)
    marked = models.PositiveIntegerField(default=0)  # counts what is noted at the bench

    class Meta:
        ordering = ["-touched"]
        constraints = [
            models.UniqueConstraint(
                fields=["name"], condition=Q(deleted__isnull=True), name="one_design_of_a_name"
            )
        ]

    def __str__(self) -> str:
        return self.name

    @property
    def revision(self) -> "Revision":
        """The revision in force."""
        assert self.current is not None
        return self.current


class Standing(models.Model):
    """What the shelf shows of a design; `key` names all that it follows from."""

    design = models.OneToOneField(Design, on_delete=models.CASCADE, related_name="standing")
    key = models.CharField(max_length=64)
    row = models.JSONField()

    def __str__(self) -> str:
        return f"standing of {self.design}"


class Revision(models.Model):
    """One saved state of a design. `parent` is what it was made from, so that undo keeps every branch."""

    design = models.ForeignKey(Design, on_delete=models.CASCADE, related_name="revisions")
    number = models.PositiveIntegerField()
    parent = models.ForeignKey("self", null=True, on_delete=models.SET_NULL, related_name="children")
    document = models.JSONField()
    label = models.CharField(max_length=120)
    created = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["number"]
        constraints = [
            models.UniqueConstraint(fields=["design", "number"], name="revision_numbers_are_unique")
        ]

    def __str__(self) -> str:
        return f"{self.design} r{self.number}"
