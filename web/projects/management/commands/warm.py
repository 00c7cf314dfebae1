"""Compile the year once, so that no visitor waits for it."""

from typing import Any

from django.core.management.base import BaseCommand

from web.projects.reckon import warm


class Command(BaseCommand):
    help = "Compile or load every kernel."
    requires_system_checks: list[str] = []

    def handle(self, *args: Any, **options: Any) -> None:
        warm()
