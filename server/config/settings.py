"""Settings. One machine, one user: the server binds to the loopback address and keeps its data in var/."""

import os
import secrets
from pathlib import Path

BASE = Path(__file__).resolve().parent.parent
ROOT = BASE.parent
VAR = Path(os.environ.get("HEXLET_VAR", ROOT / "var"))
os.umask(0o077)  # what is written here is for this user alone
VAR.mkdir(parents=True, exist_ok=True)
VAR.chmod(0o700)


def _secret() -> str:
    """A key of this installation's own, made once and kept beside the data."""
    file = VAR / "secret.txt"
    if not file.exists():
        file.write_text(secrets.token_urlsafe(50), "utf-8")
        file.chmod(0o600)
    return file.read_text("utf-8")


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
ROOT_URLCONF = "config.urls"
INSTALLED_APPS = ["django.contrib.staticfiles", "config", "workshop", "drawer", "notebook", "demo"]
MIDDLEWARE = [
    "config.middleware.at_the_door",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.common.CommonMiddleware",
    "config.middleware.CsrfEverywhere",
]
TEMPLATES: list[dict[str, object]] = []
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": VAR / "hexlet.sqlite3",
        "OPTIONS": {
            "transaction_mode": "IMMEDIATE",
            "timeout": 20,
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA foreign_keys=ON; PRAGMA synchronous=FULL;",
        },
        # A file, not memory: live-server tests share it between threads.
        "TEST": {"NAME": VAR / "test.sqlite3"},
    }
}
# What is dear to compute and follows from its key alone; the key names the core's sources, so it never grows
# stale.
CACHES = {
    "default": {
        "BACKEND": "django.core.cache.backends.filebased.FileBasedCache",
        "LOCATION": VAR / "cache",
        "TIMEOUT": None,
        "OPTIONS": {"MAX_ENTRIES": 1000},
    }
}
STANDINGS_AT_ONCE = False  # whether the shelf waits until every row is worked out
TEST_RUNNER = "config.testing.Runner"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True
STATIC_URL = "/static/"
STATIC_ROOT = BASE / "static"
WEB_DIST = ROOT / "web" / "dist"
STATICFILES_DIRS = [WEB_DIST] if WEB_DIST.is_dir() else []
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {"BACKEND": "whitenoise.storage.CompressedStaticFilesStorage"},
}
WHITENOISE_ALLOW_ALL_ORIGINS = False
WHITENOISE_IMMUTABLE_FILE_TEST = r"^.+-[A-Za-z0-9_-]{8}\.[a-z0-9]+$"
DATA_UPLOAD_MAX_MEMORY_SIZE = 5_000_000
CSRF_FAILURE_VIEW = "config.urls.forged"
CSRF_COOKIE_SAMESITE = "Strict"
SECURE_REFERRER_POLICY = "same-origin"
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"stderr": {"class": "logging.StreamHandler"}},
    # A refusal is an answer, not an incident.
    "loggers": {"django.request": {"level": "ERROR"}},
    "root": {"handlers": ["stderr"], "level": "WARNING"},
}
