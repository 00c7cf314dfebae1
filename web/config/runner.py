"""Test runner that ends with one plain line: how many passed, how many failed."""

import pickle
import re
from traceback import format_exception
from typing import Any

from django.test.runner import DiscoverRunner, ParallelTestSuite, RemoteTestResult, RemoteTestRunner


def sendable(error: Any) -> Any:
    """An error that a process can hand to another: one that cannot be pickled, such as a browser's, goes as its text.
    Unsendable, it would end the whole run without a word on any test."""
    if error is None:
        return None
    try:
        pickle.loads(pickle.dumps(error[1]))
    except Exception:
        text = "".join(format_exception(*error))
        return RuntimeError, RuntimeError(text), None
    return error


class PlainResult(RemoteTestResult):
    """Results as the processes of a parallel run send them."""

    def check_picklable(self, test: Any, error: Any) -> None:
        """What is sent here can be sent."""

    def addError(self, test: Any, error: Any) -> None:  # noqa: N802 - unittest's name
        super().addError(test, sendable(error))

    def addFailure(self, test: Any, error: Any) -> None:  # noqa: N802 - unittest's name
        super().addFailure(test, sendable(error))

    def addSubTest(self, test: Any, part: Any, error: Any) -> None:  # noqa: N802 - unittest's name
        if error is None:
            return
        try:
            pickle.dumps(part)
        except Exception:  # it carries its test, and that a browser
            plain = sendable(error)
            note = self.addFailure if issubclass(plain[0], AssertionError) else self.addError
            note(test, plain)
        else:
            super().addSubTest(test, part, sendable(error))


class PlainRunner(RemoteTestRunner):
    resultclass = PlainResult


class PlainSuite(ParallelTestSuite):
    runner_class = PlainRunner


def named(test: Any, text: str) -> str:
    """A test that did not pass, in a line or two: which, where in it, and the last line of its error."""
    where = re.findall(r'File ".*/(web|heat)/(.*?test.*?\.py)", line (\d+)', text)
    at = f" at {where[-1][0]}/{where[-1][1]}:{where[-1][2]}" if where else ""
    return f"not passed: {test}{at}: {text.strip().splitlines()[-1][:200]}"


class CountingRunner(DiscoverRunner):
    parallel_test_suite = PlainSuite

    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        self.counted = (result.testsRun - failed - len(result.skipped), failed)
        self.named = [named(test, text) for test, text in [*result.errors, *result.failures]]
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, test_labels: list[str], **kwargs: Any) -> int:
        self.counted, self.named = (0, 1), []
        try:
            return super().run_tests(test_labels or ["heat", "web"], **kwargs)
        finally:
            passed, failed = self.counted
            for line in self.named:
                print(line)
            print(f"{passed} passed, {failed} failed", flush=True)
