"""The person who signs in."""

from django.contrib.auth.models import AbstractUser
from django.db import models


class User(AbstractUser):
    class Units(models.TextChoices):
        SI = "si", "SI"
        US = "us", "US"

    units = models.CharField(max_length=2, choices=Units.choices, default=Units.SI)
