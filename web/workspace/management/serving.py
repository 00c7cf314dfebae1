"""A server of our own, started for measuring: requests over HTTP with a person's cookies, and its memory."""

import gzip
import os
import re
import signal
import socket
import subprocess
import sys
from http.client import HTTPConnection
from pathlib import Path
from time import perf_counter, sleep
from urllib.parse import urlencode

from django.conf import settings

from web.ui.rows import Row

BROWSER = {
    "User-Agent": "Mozilla/5.0 (X11; Linux x86_64) Firefox/140.0",
    "Accept-Encoding": "gzip",
    "Accept": "text/html,application/xhtml+xml,application/xml;q=0.9,*/*;q=0.8",
    "Accept-Language": "en",
}
"""What a browser sends with every request."""


class Person:
    """Someone with cookies of their own at a port, of this machine where no other is named, who asks as a browser
    does."""

    def __init__(self, port: int, host: str = "127.0.0.1") -> None:
        self.port, self.host, self.patience_s = port, host, 30.0
        self.cookies: dict[str, str] = {}
        self.location = ""

    def sign_in(self, name: str, password: str) -> "Person":
        """Signed in as someone."""
        self.request("GET", "/sign-in")
        self.request("POST", "/sign-in", {"username": name, "password": password})
        return self

    def request(
        self, method: str, path: str, form: Row | None = None, view: str = "", file: Path | None = None
    ) -> tuple[int, str, float]:
        """Status, body, and milliseconds of one request on a connection of its own; ``view``: of the page that asks."""
        if file is not None:
            return self.send(path, form or {}, "file", file.name, file.read_bytes())
        headers: dict[str, str] = {}
        body = None
        if form is not None:
            body = urlencode(form, doseq=True, errors="replace").encode()
            headers = {"Content-Type": "application/x-www-form-urlencoded", "HX-Request": "true"}
        if view:
            headers["HX-Current-URL"] = f"http://127.0.0.1{path}?view={view}"
        return self.requested(method, path, body, headers)

    def send(self, path: str, form: dict[str, object], field: str, name: str, raw: bytes) -> tuple[int, str, float]:
        """One file posted as a form does."""
        end = "red-ledger-7f3a"
        parts = [
            f'--{end}\r\nContent-Disposition: form-data; name="{key}"\r\n\r\n{value}\r\n'.encode()
            for key, value in form.items()
        ]
        head = f'--{end}\r\nContent-Disposition: form-data; name="{field}"; filename="{name}"\r\n\r\n'.encode()
        body = b"".join(parts) + head + raw + f"\r\n--{end}--\r\n".encode()
        return self.requested("POST", path, body, {"Content-Type": f"multipart/form-data; boundary={end}"})

    def requested(self, method: str, path: str, body: bytes | None, more: dict[str, str]) -> tuple[int, str, float]:
        """Status, text and milliseconds of one request."""
        headers = (
            BROWSER | {"Host": f"{self.host}:{self.port}", "X-CSRFToken": self.cookies.get("csrftoken", "")} | more
        )
        headers["Cookie"] = "; ".join(f"{k}={v}" for k, v in self.cookies.items())
        start = perf_counter()
        connection = HTTPConnection(self.host, self.port, timeout=self.patience_s)
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        raw = answer.read()
        taken = 1000 * (perf_counter() - start)
        self.location = answer.getheader("Location") or ""
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        connection.close()
        content = gzip.decompress(raw) if answer.getheader("Content-Encoding") == "gzip" else raw
        return answer.status, content.decode(errors="replace"), taken


class Server(Person):
    """gunicorn on a free port, as in production, with two workers; and someone who asks it."""

    def __init__(self) -> None:
        super().__init__(0)

    def __enter__(self) -> "Server":
        with socket.socket() as probe:
            probe.bind(("127.0.0.1", 0))
            self.port = probe.getsockname()[1]
        gunicorn = Path(sys.executable).with_name("gunicorn")
        self.process = subprocess.Popen(
            [gunicorn, "-c", "web/config/gunicorn.py", "web.config.wsgi"],
            cwd=settings.ROOT,
            env={**os.environ, "LEDGER_PORT": str(self.port)},
            stdout=subprocess.DEVNULL,
            stderr=subprocess.DEVNULL,
        )
        for _ in range(150):
            sleep(0.2)
            try:
                if self.request("GET", "/health")[0] == 200:
                    sleep(3)  # the second worker loads its kernels too
                    return self
            except OSError:
                continue
        raise RuntimeError("The server did not answer.")

    def __exit__(self, *error: object) -> None:
        self.process.send_signal(signal.SIGTERM)
        self.process.wait(15)

    def kill_worker(self) -> None:
        """End a worker at once, as a machine short of memory would."""
        os.kill(int(self.workers()[0]), signal.SIGKILL)

    def workers(self) -> list[str]:
        """Processes of the server: those that answer, and the one that works off long questions."""
        return Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split()

    def whole_mb(self) -> float:
        """Memory of everything that serves, what processes share counted once (MB): proportional set size."""
        found = [
            re.search(r"Pss:\s+(\d+)", Path(f"/proc/{w}/smaps_rollup").read_text())
            for w in [str(self.process.pid), *self.workers()]
        ]
        return sum(int(one.group(1)) for one in found if one) / 1024

    def peak_mb(self) -> float:
        """The most that any worker held at once so far (MB)."""
        peaks = [re.search(r"VmHWM:\s+(\d+)", Path(f"/proc/{w}/status").read_text()) for w in self.workers()]
        return max(int(one.group(1)) for one in peaks if one) / 1024

    def memory_mb(self) -> float:
        """Resident memory of the largest worker (MB)."""
        workers = self.workers()
        sizes = [re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{w}/status").read_text()) for w in workers]
        return max(int(s.group(1)) for s in sizes if s) / 1024
