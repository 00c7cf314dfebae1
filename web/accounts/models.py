"""The person who signs in."""

from django.contrib.auth.models import AbstractUser
from django.db import models

from web.ui.units import DECIMALS


class User(AbstractUser):
    class Units(models.TextChoices):
        SI = "si", "SI"
        US = "us", "US"

    leaving = models.DateTimeField(null=True, blank=True)
    """Since when the account is to be deleted; it can be kept until the grace is over."""
    units = models.CharField(max_length=2, choices=Units.choices, default=Units.SI)
    decimals = models.CharField(max_length=5, choices=list(DECIMALS.items()), default="ask")
    """How this person writes numbers: settles what “1,500” is."""
