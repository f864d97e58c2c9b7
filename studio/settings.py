"""Settings of the studio. Everything it stores is in one folder, `ZESTY_DATA`."""

import os
import re
import tempfile
from pathlib import Path

from huey import SqliteHuey

ROOT = Path(__file__).resolve().parent.parent
DATA = Path(os.environ.get("ZESTY_DATA", ROOT / "data")).resolve()
# Everything stored here is private to its owner: recordings, database, queue, uploads, and the key.
os.umask(0o077)
DATA.mkdir(parents=True, exist_ok=True)
# Temporary files are written on the same disk as their results; the system's own folder may be small or full.
TEMPORARY = DATA / "temporary"
TEMPORARY.mkdir(exist_ok=True)
tempfile.tempdir = str(TEMPORARY)
DIST = ROOT / "web" / "dist"


def _secret() -> str:
    """A secret key made once for this data folder; installations share nothing."""
    path = DATA / "secret"
    if not path.is_file() or re.fullmatch(rb"[0-9a-f]{64}", path.read_bytes()) is None:
        # Written completely or not at all: a first start on a full disk must not leave an empty key.
        handle, made = tempfile.mkstemp(dir=DATA, prefix="secret-")
        try:
            with os.fdopen(handle, "w") as file:
                file.write(os.urandom(32).hex())
            Path(made).replace(path)
        finally:
            Path(made).unlink(missing_ok=True)
    return path.read_text()


SECRET_KEY = _secret()
DEBUG = False
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]
ROOT_URLCONF = "studio.http.urls"
WSGI_APPLICATION = "studio.http.wsgi.application"
INSTALLED_APPS = [
    "huey.contrib.djhuey",
    "studio.people",
    "studio.storage",
    "studio.jobs",
    "studio.shelves",
    "studio.sessions",
    "studio.kits",
    "studio.catalogue",
    "studio.maintenance",
]
MIDDLEWARE = [
    "studio.http.origin_guard.OwnPagesOnly",
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "studio.http.compression.CompressText",
    "studio.http.workspace.ActsLocally",
    "studio.http.tabs.NamesTheTab",
]
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA / "studio.sqlite3",
        # One kept connection per thread: opening one costs more than most requests.
        "CONN_MAX_AGE": None,
        "OPTIONS": {
            "timeout": 20,
            "transaction_mode": "IMMEDIATE",
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
        },
        # Tests use several threads on a real file, as the studio does.
        "TEST": {"NAME": DATA / "test.sqlite3"},
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"
USE_TZ = True
TIME_ZONE = "UTC"
DATA_UPLOAD_MAX_MEMORY_SIZE = 64 << 20
DATA_UPLOAD_MAX_NUMBER_FILES = 256
DATA_UPLOAD_MAX_NUMBER_FIELDS = 2048
FILE_UPLOAD_TEMP_DIR = str(TEMPORARY)
FILE_UPLOAD_PERMISSIONS = 0o600
STATIC_URL = "/static/"
WHITENOISE_ROOT = DIST
WHITENOISE_INDEX_FILE = True
WHITENOISE_ALLOW_ALL_ORIGINS = False
ZESTY_PREPARED_BYTES = int(os.environ.get("ZESTY_PREPARED_MB", "8192")) << 20
"""What sounds made ready to play may take; the least lately used go first."""


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Built files have a content hash in their names."""
    return re.match(r"^/assets/.+-[\w-]{8}\.\w+$", url) is not None


HUEY = SqliteHuey("zesty", filename=str(DATA / "queue.sqlite3"), fsync=True)
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "root": {"handlers": ["console"], "level": "WARNING"},
}
