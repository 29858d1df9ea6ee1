"""Serve with waitress on the loopback address; load the kernel and keep copies meanwhile."""

import logging
import os
import signal
import sys
import threading
import time
from types import FrameType

from django.urls import get_resolver
from waitress.server import create_server

from config import safety
from config.wsgi import application

THREADS = 8
HOURLY = 3600.0  # how often it is seen whether today's copy is there [s]


def _stop(signum: int, frame: FrameType | None) -> None:
    sys.exit(0)


def _warm() -> None:
    from hexlet_core.warm import warm

    warm()


def _copies() -> None:
    while True:
        time.sleep(HOURLY)
        try:
            safety.copy_daily()
        except Exception:
            logging.getLogger(__name__).exception("Today's copy of the database was not made.")


def port_of(text: str) -> int:
    """The port that was asked for.

    Raises: SystemExit, in words.
    """
    if not (text.isascii() and text.isdigit() and 1 <= int(text[:6]) <= 65535):
        sys.exit(f"“{text}” is no port. A number from 1 to 65535 is wanted: make run PORT=8000")
    return int(text)


def main() -> None:
    """Serve until stopped."""
    port = port_of(os.environ.get("PORT", "8000"))
    signal.signal(signal.SIGTERM, _stop)
    try:
        server = create_server(application, host="127.0.0.1", port=port, threads=THREADS)
    except OSError as error:
        other = port + 1 if port < 65535 else 8000
        sys.exit(f"Port {port} cannot be used ({error.strerror}). Try another: make run PORT={other}")
    get_resolver().url_patterns  # noqa: B018  the addresses and all behind them are read before the first request
    threading.Thread(target=_warm, daemon=True).start()
    threading.Thread(target=_copies, daemon=True).start()
    print(f"Hexlet is at http://127.0.0.1:{port}/  (Ctrl+C stops it)", flush=True)
    server.run()


if __name__ == "__main__":
    main()
