"""A person's price book: what differs from the starting prices."""

from django.conf import settings
from django.db import models

from web.ui.texts import CharField, JSONField


class PriceBook(models.Model):
    """Prices by item; ``before``: the book as it stood before its last change."""

    owner = models.OneToOneField(settings.AUTH_USER_MODEL, models.CASCADE, related_name="price_book")
    prices = JSONField(default=dict)
    before = JSONField(default=dict)
    currency = CharField(max_length=3, default="EUR")
    changed = models.DateTimeField(auto_now=True)

    def __str__(self) -> str:
        return f"prices of {self.owner_id}"
