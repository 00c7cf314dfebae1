"""Work for workers: long reports are printed."""

from django.db import close_old_connections
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from web.reports.services import print_issued


@app.task(name="print report", queue="care", retry=RetryStrategy(max_attempts=4, wait=3))
def print_report(report_id: int) -> None:
    """The pages of a report that was issued."""
    close_old_connections()  # a database that was away has left connections that are none
    print_issued(report_id)
