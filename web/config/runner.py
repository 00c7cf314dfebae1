"""Test runner that ends with one plain line: how many passed, how many failed."""

from typing import Any

from django.test.runner import DiscoverRunner


class CountingRunner(DiscoverRunner):
    def suite_result(self, suite: Any, result: Any, **kwargs: Any) -> int:
        failed = len(result.failures) + len(result.errors) + len(result.unexpectedSuccesses)
        self.counted = (result.testsRun - failed - len(result.skipped), failed)
        return super().suite_result(suite, result, **kwargs)

    def run_tests(self, test_labels: list[str], **kwargs: Any) -> int:
        self.counted = (0, 1)
        try:
            return super().run_tests(test_labels or ["heat", "web"], **kwargs)
        finally:
            passed, failed = self.counted
            print(f"{passed} passed, {failed} failed", flush=True)
