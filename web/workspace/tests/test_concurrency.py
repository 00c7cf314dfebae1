"""Turns in a process."""

from concurrent.futures import ThreadPoolExecutor
from threading import Event, Lock
from unittest import TestCase

from django.template import engines
from django.test import SimpleTestCase

from web.workspace.concurrency import ConcurrencyLimit
from web.workspace.registry import steps
from web.workspace.shell import ready_pages


class Concurrency(TestCase):
    def test_never_more_at_once_and_all_get_theirs(self):
        turns, lock, within, most = ConcurrencyLimit(2, 30.0), Lock(), 0, 0

        def work(_number):
            nonlocal within, most
            with turns.mine():
                with lock:
                    within += 1
                    most = max(most, within)
                Event().wait(0.01)
                with lock:
                    within -= 1

        with ThreadPoolExecutor(8) as pool:
            list(pool.map(work, range(40)))
        self.assertEqual((most, within, turns.now), (2, 0, 0))

    def test_who_is_checked_up_holds_up_nobody_for_long(self):
        turns, go_on, began = ConcurrencyLimit(1, 0.05), Event(), Event()

        def retained_up():
            with turns.mine():
                began.set()
                go_on.wait(10)

        with ThreadPoolExecutor(1) as pool:
            slow = pool.submit(retained_up)
            began.wait(10)
            with turns.mine():
                self.assertEqual(turns.now, 2)
                self.assertFalse(slow.done())
            go_on.set()
        self.assertEqual(turns.now, 0)
        with turns.mine():
            self.assertEqual(turns.now, 1)

    def test_a_turn_ends_also_by_an_error(self):
        turns = ConcurrencyLimit(1, 10.0)
        for _ in range(3):
            with self.assertRaises(KeyError), turns.mine():
                raise KeyError
        self.assertEqual(turns.now, 0)


class Ready(SimpleTestCase):
    def test_every_page_is_loaded_before_it_is_requested_for(self):
        ready_pages()
        loaders = engines["django"].engine.template_loaders
        stored = {
            str(getattr(found, "origin", "")) for loader in loaders for found in loader.get_template_cache.values()
        }
        for step in steps():
            for view in step.views:
                self.assertTrue(any(name.endswith(view.template) for name in stored), view.template)
