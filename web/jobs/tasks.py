"""Work for workers: chunks of runs, and what a dead worker left behind."""

from typing import Any

from django.db import close_old_connections
from procrastinate import RetryStrategy
from procrastinate.contrib.django import app

from web.jobs.fair_share import turns_missing, work_next

QUIET_S = 30
"""Seconds without a sign of life after which a worker counts as dead."""


@app.task(name="turn", queue="years", retry=RetryStrategy(max_attempts=4, wait=3))
def turn() -> None:
    """Work on whatever is next: see fair_share.py."""
    close_old_connections()  # a database that was away has left connections that are none
    if work_next():
        turn.defer()


@app.task(name="chunk", queue="years", retry=RetryStrategy(max_attempts=4, wait=3))
def chunk(run_id: int, index: int) -> None:
    """A turn, as earlier versions asked for one."""
    turn()


@app.task(name="search", queue="years", retry=RetryStrategy(max_attempts=4, wait=3))
def search(run_id: int) -> None:
    """A turn, as earlier versions asked for one."""
    turn()


@app.periodic(cron="* * * * *")
@app.task(name="turns", queue="care", queueing_lock="turns")
def turns(timestamp: int) -> None:
    """As many turns in the queue as pieces are left."""
    close_old_connections()
    if missing := turns_missing():
        turn.batch_defer(*({} for _ in range(missing)))


@app.periodic(cron="* * * * *")
@app.task(name="left behind", queue="care", queueing_lock="left behind", pass_context=True)
async def left_behind(context: Any, timestamp: int) -> None:
    """Work of workers that died is begun again: a chunk that was done meanwhile is left alone."""
    manager = context.app.job_manager
    for job in await manager.get_stalled_jobs(seconds_since_heartbeat=QUIET_S):
        await manager.retry_job(job)
