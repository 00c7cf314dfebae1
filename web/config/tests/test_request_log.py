"""References, slow and broken requests in the log, and whether work can be done."""

import errno
import itertools
import json
import logging
import selectors
import socket
from collections import deque
from threading import Lock
from unittest.mock import Mock, patch

from django.db import DatabaseError, InterfaceError, OperationalError
from django.test import RequestFactory, SimpleTestCase, TestCase, override_settings
from gunicorn.workers.gthread import ThreadWorker
from psycopg.errors import DiskFull

from web.config import health, limits
from web.config.request_log import AsJson, Reference, reference, watched
from web.config.worker import LARGE_AT_ONCE, PatientUnreader, PatientWorker, TooSlow, _coming
from web.ui.exclusive import Busy


class Watching(TestCase):
    def test_every_answer_has_a_reference_of_its_own(self):
        one, two = self.client.get("/sign-in"), self.client.get("/sign-in")
        self.assertRegex(one["X-Request-ID"], r"^[0-9a-f]{12}$")
        self.assertNotEqual(one["X-Request-ID"], two["X-Request-ID"])
        self.assertEqual(
            self.client.get("/sign-in", headers={"X-Request-ID": "proxy-1234"})["X-Request-ID"], "proxy-1234"
        )
        for bad in ("short", "x" * 41, "a b c d e f", "<script>alert(1)</script>"):
            self.assertRegex(
                self.client.get("/sign-in", headers={"X-Request-ID": bad})["X-Request-ID"], r"^[0-9a-f]{12}$"
            )
        self.assertEqual(reference.get(), "")

    def test_what_broke_is_reported_with_its_reference(self):
        observed = {}

        def breaks(request):
            observed["page"] = health.broken(request)
            return observed["page"]

        with self.assertLogs("web.requests", "WARNING") as text:
            answer = watched(breaks)(RequestFactory().get("/projects/9/A/scheme"))
        self.assertContains(answer, answer["X-Request-ID"], status_code=500)
        self.assertIn("/projects/9/A/scheme answered 500", text.output[0])

    def test_slow_ones_are_reported(self):
        with patch("web.config.request_log.SLOW_S", -1.0), self.assertLogs("web.requests", "WARNING") as text:
            self.client.get("/sign-in")
        self.assertEqual((text.records[0].path, text.records[0].status), ("/sign-in", 200))

    def test_a_line_as_json(self):
        record = logging.LogRecord("web.requests", logging.WARNING, "", 0, "slow “%s”", ("x",), None)
        record.path, record.seconds = "/x", 2.5
        Reference().filter(record)
        line = json.loads(AsJson().format(record))
        self.assertEqual(
            (line["message"], line["path"], line["seconds"], line["reference"]), ("slow “x”", "/x", 2.5, "-")
        )

    def test_ready_or_not_and_why(self):
        self.assertEqual(self.client.get("/ready").content, b"ready")
        with patch("web.config.health._stood", False):
            health._not_ready.cache_clear()
            with patch("web.config.health.MigrationExecutor", side_effect=DatabaseError) as made:
                for _ in range(5):
                    self.assertContains(self.client.get("/ready"), "does not answer", status_code=503)
                self.assertLessEqual(made.call_count, 2)
            health._not_ready.cache_clear()
            with patch("web.config.health.MigrationExecutor.migration_plan", return_value=[1, 2]):
                self.assertContains(self.client.get("/ready"), "migrations wait", status_code=503)
        health._not_ready.cache_clear()

    def test_what_is_away_for_now_is_503_with_why_and_no_fault_of_ours(self):
        self.client.raise_request_exception = False
        for error, words in (
            (OperationalError("server closed the connection"), "database does not answer"),
            (InterfaceError("connection already closed"), "database does not answer"),
            (DatabaseError(), None),
            (ValueError(), None),
            (Busy("password"), "busy"),
        ):
            with patch("web.accounts.second_factor.SignInView.get", side_effect=error):
                for headers, kind in (({}, "text/html"), ({"HX-Request": "true"}, "text/plain")):
                    answer = self.client.get("/sign-in", headers=headers)
                    self.assertEqual(answer.status_code, 503 if words else 500)
                    if words:
                        self.assertIn(words, answer.content.decode())
                        self.assertIn("Nothing", answer.content.decode())
                        self.assertTrue(answer["Content-Type"].startswith(kind))
                        self.assertEqual(answer["Retry-After"], "5")
        full = OperationalError("could not extend file")
        full.__cause__ = DiskFull("No space left on device")
        self.assertIn("no room left", health.unavailable(full))

    def test_through_a_proxy_everybody_has_an_address_of_their_own(self):
        def observed(forwarded, peer="127.0.0.1", **payload):
            with override_settings(**payload):
                request = RequestFactory().get("/", headers={"X-Forwarded-For": forwarded}, REMOTE_ADDR=peer)
                return limits.real_address(lambda request: request.META["REMOTE_ADDR"])(request)

        with self.assertLogs("web.requests", "WARNING") as text:
            self.assertEqual(observed("198.51.100.1, 192.0.2.7", BEHIND_PROXY=False), "192.0.2.7")
        self.assertIn("LEDGER_PROXY=1", text.output[0])
        self.assertEqual(observed("192.0.2.7", BEHIND_PROXY=True), "192.0.2.7")
        with self.assertLogs("web.requests", "WARNING"):
            self.assertEqual(observed("192.0.2.7", "203.0.113.9", BEHIND_PROXY=False, ON_LOOPBACK=False), "203.0.113.9")

    def test_ready_through_a_proxy_is_not_from_this_machine(self):
        response = self.client.get("/ready", headers={"X-Forwarded-For": "192.0.2.7", "Host": "elsewhere.example"})
        self.assertEqual(response.status_code, 400)


class GivingWay(SimpleTestCase):
    def worker(self):
        worker = PatientWorker.__new__(PatientWorker)
        worker._counting, worker.requested = Lock(), []
        return worker

    def test_who_has_more_at_hand_reaches_later_for_the_next(self):
        worker, ways, listener = self.worker(), [], Mock()
        listener.accept.side_effect = OSError(errno.EAGAIN, "taken by another")
        with patch("web.config.worker.sleep", ways.append):
            for worker.at_hand in (0, 1, 5, 500):
                worker.accept(listener)
        self.assertEqual(listener.accept.call_count, 4)
        self.assertEqual(ways, [0.0, *sorted(ways)[1:]])
        self.assertLess(ways[1], ways[2])
        self.assertLessEqual(ways[3], 0.05)

    def test_requests_at_hand_are_counted_however_they_end(self):
        worker, (ours, theirs) = self.worker(), socket.socketpair()
        observed = []

        def ends(_worker, _connection):
            observed.append(worker.at_hand)
            if len(observed) == 2:
                raise OSError

        connection = Mock(sock=ours)
        with ours, theirs, patch.object(ThreadWorker, "handle", ends):
            worker.handle(connection)
            with self.assertRaises(OSError):
                worker.handle(connection)
        self.assertEqual((observed, worker.at_hand), ([1, 1], 0))


class Arriving(SimpleTestCase):
    """A connection holds no thread until its request has come."""

    def setUp(self):
        worker = self.worker = PatientWorker.__new__(PatientWorker)
        worker.poller, worker.pending_conns, worker.nr_conns = selectors.DefaultSelector(), deque(), 1
        worker.large, worker.large_waiting, worker.taken = 0, deque(), []
        worker.enqueue_req = worker.taken.append
        self.listener = socket.create_server(("127.0.0.1", 0))
        self.client = socket.create_connection(self.listener.getsockname())
        ours, _address = self.listener.accept()
        self.conn = Mock(sock=ours, expected=0)
        for one in (self.listener, self.client, ours, worker.poller):
            self.addCleanup(one.close)
        worker.await_request(self.conn)

    def turn(self):
        """What the poller says, handed on; how many events there were."""
        events = self.worker.poller.select(0.2)
        for key, _ in events:
            key.data(key.fileobj)
        return len(events)

    def test_by_halves_it_waits_without_a_thread_and_without_being_looked_at_again(self):
        self.assertEqual(self.turn(), 0)
        self.client.sendall(b"POST / HTTP/1.1\r\nContent-Le")
        self.assertEqual((self.turn(), self.turn(), self.worker.taken), (1, 0, []))
        self.client.sendall(b"ngth: 4\r\n\r\nab")
        self.assertEqual((self.turn(), self.turn(), self.worker.taken), (1, 0, []))
        self.client.sendall(b"cd")
        self.assertEqual((self.turn(), self.worker.taken), (1, [self.conn]))
        self.assertEqual(list(self.worker.pending_conns), [])

    def test_whole_at_once_it_is_taken_at_once(self):
        self.client.sendall(b"GET / HTTP/1.1\r\nHost: x\r\n\r\n")
        self.assertEqual((self.turn(), self.worker.taken), (1, [self.conn]))

    def test_who_goes_in_the_middle_is_let_go(self):
        self.client.sendall(b"GET / HT")
        self.turn()
        self.client.close()
        self.assertEqual((self.turn(), self.worker.taken, self.worker.nr_conns), (1, [], 0))
        self.conn.close.assert_called_once()

    def test_what_does_not_come_in_time_is_let_go(self):
        with patch("gunicorn.workers.gthread.time.monotonic", return_value=self.conn.timeout + 1):
            self.worker.murder_pending()
        self.assertEqual((self.worker.nr_conns, list(self.worker.pending_conns)), (0, []))

    def test_few_large_ones_are_read_at_once(self):
        self.client.sendall(b"POST / HTTP/1.1\r\nContent-Length: 9000000\r\n\r\n" + b"x" * 60_000)
        self.worker.large = LARGE_AT_ONCE
        for _ in range(20):
            self.turn()
        self.assertEqual((self.worker.taken, list(self.worker.large_waiting)), ([], [self.conn]))
        with patch.object(ThreadWorker, "finish_request"):
            self.worker.finish_request(Mock(large=True), None)
        self.assertEqual((self.worker.taken, self.worker.large), ([self.conn], LARGE_AT_ONCE))


class Slow(SimpleTestCase):
    def read(self, pace_bytes, every_s):
        """What a request that comes in at a pace is read as, by a clock of the test's own."""
        ours, theirs = socket.socketpair()
        clock = itertools.count(0.0, every_s)
        with ours, theirs, patch("web.config.worker.monotonic", lambda: next(clock)):
            theirs.sendall(b"x" * 20 * pace_bytes)
            _coming.since, _coming.bytes = 0.0, 0
            unreader = PatientUnreader(ours, pace_bytes)
            return sum(len(unreader.chunk()) for _ in range(20))

    def test_drops_are_hung_up_on_and_a_slow_line_is_not(self):
        self.assertEqual(self.read(8000, 0.9), 160_000)
        with self.assertRaises(TooSlow):
            self.read(1, 0.5)
