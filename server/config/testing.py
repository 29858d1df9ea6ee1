"""The test runner: a fresh data folder a run, so that a test never touches the user's own data."""

import os
import shutil
import tempfile
from typing import Any

from django.test.runner import DiscoverRunner


class Runner(DiscoverRunner):
    """Keeps the test database in a temporary folder and removes it afterwards."""

    def setup_test_environment(self, **kwargs: Any) -> None:
        from django.conf import settings

        os.environ.setdefault("DJANGO_ALLOW_ASYNC_UNSAFE", "true")  # the browser's driver runs an event loop
        self._folder = tempfile.mkdtemp(prefix="hexlet-test-")
        databases: dict[str, Any] = settings.DATABASES
        databases["default"]["TEST"]["NAME"] = os.path.join(self._folder, "test.sqlite3")
        settings.STANDINGS_AT_ONCE = True  # a test's own transaction is not seen by other threads
        settings.CACHES = {"default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"}}
        super().setup_test_environment(**kwargs)

    def teardown_test_environment(self, **kwargs: Any) -> None:
        super().teardown_test_environment(**kwargs)
        shutil.rmtree(self._folder, ignore_errors=True)
