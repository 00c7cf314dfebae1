"""A server of our own, started for measuring: requests over HTTP with a person's cookies, and its memory."""

import os
import re
import signal
import socket
import subprocess
import sys
from http.client import HTTPConnection
from pathlib import Path
from time import perf_counter, sleep
from typing import Any
from urllib.parse import urlencode

from django.conf import settings


class Person:
    """Someone with cookies of their own at a port, of this machine where no other is named."""

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
        self, method: str, path: str, form: dict[str, Any] | None = None, view: str = "", file: Path | None = None
    ) -> tuple[int, str, float]:
        """Status, body, and milliseconds of one request on a connection of its own; ``view``: of the page that asks."""
        headers = {"Cookie": "; ".join(f"{k}={v}" for k, v in self.cookies.items()), "Host": self.host}
        body: str | bytes | None = None
        if form is not None:
            body = urlencode(form, doseq=True)
            token = self.cookies.get("csrftoken", "")
            headers |= {"Content-Type": "application/x-www-form-urlencoded", "X-CSRFToken": token, "HX-Request": "true"}
        if view:
            headers["HX-Current-URL"] = f"http://127.0.0.1{path}?view={view}"
        if file is not None:
            headers |= {"Content-Type": "multipart/form-data; boundary=red-ledger", "HX-Request": "false"}
            part = f'--red-ledger\r\nContent-Disposition: form-data; name="file"; filename="{file.name}"\r\n\r\n'
            body = part.encode() + file.read_bytes() + b"\r\n--red-ledger--\r\n"
        start = perf_counter()
        connection = HTTPConnection(self.host, self.port, timeout=self.patience_s)
        connection.request(method, path, body, headers)
        answer = connection.getresponse()
        text = answer.read().decode(errors="replace")
        taken = 1000 * (perf_counter() - start)
        self.location = answer.getheader("Location") or ""
        for name, value in answer.getheaders():
            if name.lower() == "set-cookie":
                key, _, rest = value.partition("=")
                self.cookies[key] = rest.split(";")[0]
        connection.close()
        return answer.status, text, taken


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
        workers = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split()
        os.kill(int(workers[0]), signal.SIGKILL)

    def memory_mb(self) -> float:
        """Resident memory of the largest worker (MB)."""
        workers = Path(f"/proc/{self.process.pid}/task/{self.process.pid}/children").read_text().split()
        sizes = [re.search(r"VmRSS:\s+(\d+)", Path(f"/proc/{w}/status").read_text()) for w in workers]
        return max(int(s.group(1)) for s in sizes if s) / 1024
