"""What the test runner prints of a test that did not pass."""

import sys
from traceback import format_exc
from unittest import TestCase

from web.config.runner import named, sendable


class Unsendable(Exception):
    def __reduce__(self):
        raise TypeError("not to be pickled")


class RunnerTests(TestCase):
    def test_a_failed_test_is_named_with_its_place_and_the_error_s_last_line(self):
        try:
            self.assertEqual(1, 2)
        except AssertionError:
            line = named(self, format_exc())
        self.assertIn("test_a_failed_test_is_named", line)
        self.assertIn("web/config/tests/test_runner.py:", line)
        self.assertTrue(line.endswith("1 != 2"))

    def test_an_error_that_cannot_be_pickled_is_sent_as_its_text(self):
        try:
            raise Unsendable("a browser's own")
        except Unsendable:
            kind, error, _ = sendable(sys.exc_info())
        self.assertIs(kind, RuntimeError)
        self.assertIn("a browser's own", str(error))
