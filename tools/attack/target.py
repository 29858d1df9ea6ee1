"""A server of one's own, in a folder of its own, that can be killed; and a client that keeps its cookie."""

from __future__ import annotations

import http.client
import json
import os
import re
import signal
import socket
import subprocess
import sys
import time
from pathlib import Path
from typing import Any

ROOT = Path(__file__).resolve().parent.parent.parent


def free_port() -> int:
    with socket.socket() as s:
        s.bind(("127.0.0.1", 0))
        return int(s.getsockname()[1])


class Target:
    """The program, served from a folder."""

    def __init__(self, folder: str) -> None:
        self.folder, self.port = folder, free_port()
        self.env = {**os.environ, "HEXLET_VAR": folder, "PORT": str(self.port)}
        self.process: subprocess.Popen[bytes] | None = None

    def start(self, limit: int | None = None) -> None:
        """Set up and serve; no file may grow beyond `limit` bytes where one is given."""
        subprocess.run(
            [sys.executable, "server/manage.py", "set_up"],
            cwd=ROOT,
            env=self.env,
            check=True,
            capture_output=True,
        )
        serve = [sys.executable, "-m", "config.serve"]
        if limit is not None:
            serve = ["bash", "-c", f'ulimit -f {limit // 1024}; exec "$@"', "serve", *serve]
        with open(Path(self.folder) / "served.log", "ab") as log:
            self.process = subprocess.Popen(serve, cwd=ROOT / "server", env=self.env, stdout=log, stderr=log)
        for _ in range(300):
            try:
                Client(self.port).get("/robots.txt")
                return
            except OSError:
                time.sleep(0.1)
        raise TimeoutError("The server did not come up.")

    def kill(self, how: int = signal.SIGKILL) -> None:
        """End it, by default as a power cut does."""
        assert self.process is not None
        self.process.send_signal(how)
        self.process.wait()

    def memory(self) -> int:
        """What it holds of the machine's memory [bytes]."""
        assert self.process is not None
        status = Path(f"/proc/{self.process.pid}/status").read_text("utf-8")
        found = re.search(r"VmRSS:\s+(\d+) kB", status)
        return int(found[1]) * 1024 if found else 0


class Answer:
    """What came back, and how long it took [s]."""

    def __init__(self, status: int, kind: str, body: bytes, seconds: float) -> None:
        self.status, self.kind, self.body, self.seconds = status, kind, body, seconds

    def json(self) -> Any:
        return json.loads(self.body)


class Raw(http.client.HTTPConnection):
    """A connection that sends a path as it is, right or wrong."""

    def _encode_request(self, request: str) -> bytes:
        return request.encode("latin-1")


class Client:
    """A browser's part of it: one connection a request, the cookie kept."""

    def __init__(self, port: int, timeout: float = 120.0) -> None:
        self.port, self.timeout, self.token = port, timeout, ""

    def send(self, method: str, path: str, body: bytes = b"", kind: str = "application/json") -> Answer:
        if not self.token and path != "/" and method != "GET":
            self.token = self._token()
        begin = time.perf_counter()
        connection = Raw("127.0.0.1", self.port, timeout=self.timeout)
        headers = {"Cookie": f"csrftoken={self.token}", "X-CSRFToken": self.token} if self.token else {}
        if kind and method != "GET":
            headers["Content-Type"] = kind
        try:
            connection.request(method, _written(path), body or None, headers)
            response = connection.getresponse()
            data = response.read()
        finally:
            connection.close()
        return Answer(
            response.status, response.headers.get("Content-Type", ""), data, time.perf_counter() - begin
        )

    def _token(self) -> str:
        connection = http.client.HTTPConnection("127.0.0.1", self.port, timeout=self.timeout)
        connection.request("GET", "/")
        response = connection.getresponse()
        response.read()
        connection.close()
        found = re.search(r"csrftoken=([^;]+)", response.headers.get("Set-Cookie", ""))
        return found[1] if found else ""

    def get(self, path: str) -> Any:
        answer = self.send("GET", path)
        return answer.json() if "json" in answer.kind else answer.body

    def post(self, path: str, body: Any) -> Answer:
        return self.send("POST", path, json.dumps(body).encode())


def _written(path: str) -> str:
    """A path as it goes over the wire, whatever is in it."""
    return path.encode().decode("latin-1").replace(" ", "%20")
