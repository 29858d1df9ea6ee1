"""The parts drawer: own cards, and how many of each card there are."""

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
