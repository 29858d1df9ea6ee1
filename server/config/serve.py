"""Serve with waitress on the loopback address; load the kernel in the background meanwhile."""

import os
import signal
import sys
import threading
from types import FrameType

from django.urls import get_resolver
from waitress.server import create_server

from config.wsgi import application


def _stop(signum: int, frame: FrameType | None) -> None:
    sys.exit(0)


def _warm() -> None:
    from hexlet_core.warm import warm

    warm()


def main() -> None:
    """Serve until stopped."""
    port = int(os.environ.get("PORT", "8000"))
    signal.signal(signal.SIGTERM, _stop)
    try:
        server = create_server(application, host="127.0.0.1", port=port, threads=8)
    except OSError as error:
        sys.exit(f"Port {port} cannot be used ({error.strerror}). Try another: make run PORT={port + 1}")
    get_resolver().url_patterns  # noqa: B018  the addresses and all behind them are read before the first request
    threading.Thread(target=_warm, daemon=True).start()
    print(f"Hexlet is at http://127.0.0.1:{port}/  (Ctrl+C stops it)", flush=True)
    server.run()


if __name__ == "__main__":
    main()
