"""A changing request is done once: its page gives it a key, and the same key is answered again, not done again."""

from collections.abc import Callable
from datetime import timedelta
from typing import TypeVar

from django.db import connection, transaction
from django.utils import timezone

from web.accounts.models import User
from web.projects.models import Done

Answer = TypeVar("Answer")
STORED = timedelta(days=2)
"""How long a page may go on asking under a key it has used."""
SWEEP = 200
"""Old keys are swept away once in so many new ones."""


def _first(author: User, key: str) -> Done | None:
    """The key, taken; None where it is used already. Whoever has it in hand is waited for."""
    now = timezone.now()
    with connection.cursor() as cursor:
        cursor.execute(
            "INSERT INTO projects_done (author_id, key, location, at) VALUES (%s, %s, '', %s) "
            "ON CONFLICT DO NOTHING RETURNING id",
            [author.pk, key, now],
        )
        row = cursor.fetchone()
    return Done(pk=row[0], author=author, key=key, at=now) if row else None


def done_once(
    *, author: User, key: str, run: Callable[[], tuple[Answer, bool, str]], again: Callable[[str], Answer]
) -> Answer:
    """What ``run`` answers, whether it counts as done, and where it leads; for a key that was done, ``again`` of where
    that led.

    All or nothing: where ``run`` raises, nothing is kept, the key neither. A second request under a key waits for the
    first.
    """
    with transaction.atomic():
        mine = _first(author, key)
        if mine is None:
            return again(Done.objects.get(author=author, key=key).location)
        answer, counts, location = run()
        if not counts:
            mine.delete()
        elif location:
            mine.location = location
            mine.save(update_fields=["location"])
        if mine.pk and mine.pk % SWEEP == 0:
            Done.objects.filter(at__lt=timezone.now() - STORED).delete()
        return answer
