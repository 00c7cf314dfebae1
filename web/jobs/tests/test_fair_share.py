"""Turns by person: who asks for little is not kept waiting by who asks for much, and dead workers hold nothing."""

from unittest.mock import patch

import numpy as np
from django.db import connections
from django.test import TransactionTestCase
from procrastinate.contrib.django.models import ProcrastinateJob

from web.accounts.models import User
from web.jobs import services, tasks
from web.jobs.fair_share import CHUNK_LOCK, turns_missing, waiting, work_next
from web.jobs.limits import KEY_RUNNING, TooMuch
from web.jobs.models import Chunk, Run
from web.jobs.services import request_run
from web.jobs.tests.test_runs import SPREADS
from web.projects.climates import merrow_coast
from web.projects.services.designs import create_project
from web.projects.tests.helpers import DeskCase


def require(design, user, size, seed, **more):
    question = {"spreads": SPREADS, "seed": seed}
    return request_run(design=design, author=user, purpose="doubt", question=question, size=size, **more)


class ConcurrencyLimit(DeskCase):
    """Years are not simulated here: only whose turn it is matters."""

    def setUp(self):
        super().setUp()
        self.other = User.objects.create_user("bo")
        self.theirs = create_project(owner=self.other, name="Net loft", place="", weather=merrow_coast())
        quick = patch("web.jobs.services.simulated_outcomes", lambda run, weather, first, count, turn: Quick(count))
        quick.start()
        self.addCleanup(quick.stop)

    def served(self):
        """The run whose chunk a turn worked on."""
        before = set(Chunk.objects.exclude(done=None).values_list("pk", flat=True))
        work_next()
        (fresh,) = Chunk.objects.exclude(done=None).exclude(pk__in=before)
        return fresh.run

    def test_a_small_question_does_not_wait_for_six_large_ones(self):
        many = [require(self.fresh(), self.user, 2000, seed) for seed in range(6)]
        for _ in range(5):
            self.assertIn(self.served(), many)
        small = require(self.theirs.designs.get(), self.other, 100, 1)
        turns = 0
        while small.chunks.filter(done=None).exists():
            self.served()
            turns += 1
        self.assertLessEqual(turns, 10)  # five chunks of theirs, each after at most one of the other's

    def test_ones_own_questions_take_turns_too(self):
        first, second = require(self.fresh(), self.user, 200, 1), require(self.fresh(), self.user, 200, 2)
        self.assertEqual([self.served() for _ in range(4)], [first, second, first, second])

    def test_turns_that_were_lost_are_asked_for_again(self):
        require(self.fresh(), self.user, 100, 1)
        self.assertEqual(turns_missing(), 0)
        ProcrastinateJob.objects.all().delete()
        self.assertEqual(turns_missing(), 5)
        with patch("web.jobs.tasks.close_old_connections"):
            tasks.turns(0)
        self.assertEqual((turns_missing(), ProcrastinateJob.objects.filter(queue_name="years").count()), (0, 5))
        while work_next() or waiting().exists():
            pass
        self.assertEqual(turns_missing(), 0)

    def test_a_chunk_in_other_hands_is_left_alone(self):
        run = require(self.fresh(), self.user, 80, 1)
        first, second = run.chunks.all()[:2]
        other = connections["default"].copy()  # another worker's connection
        with other.cursor() as cursor:
            cursor.execute("SELECT pg_advisory_lock(%s)", [CHUNK_LOCK + first.pk])
        with patch("web.jobs.fair_share.simulate_chunk", return_value=True) as worked:
            work_next()
            worked.assert_called_once_with(run.pk, second.index)
            other.close()  # that worker died: what it held is free
            work_next()
            self.assertEqual(worked.call_args.args, (run.pk, first.index))

    def test_a_turn_with_nothing_to_do_ends(self):
        self.assertFalse(work_next())
        run = require(self.fresh(), self.user, 80, 1)
        Run.objects.filter(pk=run.pk).update(stopped="2026-05-01T00:00Z")
        self.assertFalse(waiting().exists())
        self.assertFalse(work_next())

    def test_a_key_has_its_own_limit(self):
        for seed in range(KEY_RUNNING):
            require(self.fresh(), self.user, 200, seed, token=7)
        with self.assertRaisesMessage(TooMuch, "of this key"):
            require(self.fresh(), self.user, 200, 99, token=7)
        require(self.fresh(), self.user, 200, 99, token=8)
        require(self.fresh(), self.user, 200, 100)


class Quick:
    """Years that take no time."""

    def __init__(self, count):
        self.figures, self.refused = np.zeros((count, 3)), {}


class Queued(TransactionTestCase):
    def test_as_many_turns_as_chunks(self):
        user = User.objects.create_user("asta")
        project = create_project(owner=user, name="Tern Lane", place="", weather=merrow_coast())
        with patch.object(services, "AT_ONCE", 0):
            require(project.designs.get(), user, 70, 1)
        self.assertEqual(ProcrastinateJob.objects.filter(task_name="turn").count(), 4)
