"""The parts drawer: own cards, how many of each card there are, and what was changed, so that it can be taken
back.
"""

from django.db import models


class Item(models.Model):
    """A card in the drawer. `card` is its data; catalogue cards leave it empty."""

    card_id = models.CharField(max_length=60, unique=True)
    card = models.JSONField(null=True)
    stock = models.PositiveIntegerField(default=0)

    class Meta:
        ordering = ["card_id"]

    def __str__(self) -> str:
        return f"{self.card_id} × {self.stock}"


class OwnBoard(models.Model):
    """A solderless board that is owned."""

    positions = models.PositiveSmallIntegerField()
    rails = models.CharField(max_length=10)

    class Meta:
        ordering = ["id"]

    def __str__(self) -> str:
        return f"{self.positions} positions, {self.rails} rails"


class Shuffle(models.Model):
    """One change of the drawer: `before` keeps each touched card as it was, null where it was not there."""

    label = models.CharField(max_length=120)
    before = models.JSONField()
    made = models.DateTimeField(auto_now_add=True)

    class Meta:
        ordering = ["-made", "-id"]

    def __str__(self) -> str:
        return self.label
