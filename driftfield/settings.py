"""Django settings. Everything that changes from machine to machine is in the environment:

DRIFTFIELD_DATA   folder of the database and the secret key (default: var/ in the checkout)
DRIFTFIELD_DEBUG  1 for tracebacks in the browser
DRIFTFIELD_RECORD_YEARS  how many years back figures may go (default: 60)
DRIFTFIELD_FEED_URL, _ID, _SECRET  where the market feed is, and who asks it (default: the simulated one)
DRIFTFIELD_FEED_ANYWHERE           1 to ask a feed that is not on this machine
DRIFTFIELD_MAIL_HOST, _PORT, _USER, _PASSWORD, _TLS, _FROM  the mail server (default: files in the data folder)
"""

import os
import secrets
from pathlib import Path

from driftfield.core.base import DEFAULTS
from driftfield.core.curves import Drift, Shape
from driftfield.core.market import KINDS, LISTED, OF_TERMS
from driftfield.core.market.words import LANGUAGES as STEMMED
from driftfield.core.signals import SIGNALS_BY_KEY
from driftfield.core.supply import Against, OwnVerdict
from driftfield.home import DATABASE, WORK_DATABASE, data_folder, make_ready
from driftfield.logs import configuration, log_file

BASE_DIR = Path(__file__).resolve().parents[1]
DATA_DIR = data_folder()
make_ready(DATA_DIR)
WEB_DIST = BASE_DIR / "web" / "dist"


def _secret_key() -> str:
    path = DATA_DIR / "secret_key"
    if not path.exists() or not path.stat().st_size:
        # Whole before it is there: two programs may start at once.
        part = path.with_name(f".secret_key.{os.getpid()}")
        part.touch(mode=0o600)
        part.write_text(secrets.token_urlsafe(50))
        part.replace(path)
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = os.environ.get("DRIFTFIELD_DEBUG") == "1"
# Served on loopback only; other host names are refused, so that no web page can reach in by DNS.
ALLOWED_HOSTS = ["127.0.0.1", "localhost", "[::1]"]

INSTALLED_APPS = [
    "django.contrib.contenttypes",
    "django.contrib.staticfiles",
    "rest_framework",
    "drf_spectacular",
    "django_tasks",
    "django_tasks_db",
    "driftfield.market",
    "driftfield.intake",
    "driftfield.readings",
    "driftfield.desk",
    "driftfield.work",
    "driftfield.api",
]
MIDDLEWARE = [
    "driftfield.api.errors.with_id",
    "driftfield.api.headers.own_pages_only",
    "django.middleware.security.SecurityMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "django.middleware.gzip.GZipMiddleware",
    "django.middleware.common.CommonMiddleware",
    "driftfield.api.moments.read_at_one_moment",
]
ROOT_URLCONF = "driftfield.urls"
WSGI_APPLICATION = "driftfield.wsgi.application"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "no-referrer"
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

_OPTIONS = {
    "transaction_mode": "IMMEDIATE",
    "timeout": 20,
    # The page size counts when the database is made: curves of five years fill large pages better, a fifth
    # less space in all.
    "init_command": "PRAGMA page_size=16384; PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL; "
    "PRAGMA cache_size=-65536; PRAGMA mmap_size=268435456;",
}
DATABASES = {
    "default": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / DATABASE,
        "OPTIONS": _OPTIONS,
    },
    # Long work and its queue; see driftfield/work/router.py.
    "work": {
        "ENGINE": "django.db.backends.sqlite3",
        "NAME": DATA_DIR / WORK_DATABASE,
        "OPTIONS": _OPTIONS
        | {"init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=NORMAL;"},
    },
}
DATABASE_ROUTERS = ["driftfield.work.router.WorkRouter"]
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
UPLOAD_LIMIT = 4 << 30  # Bytes of one file uploaded in the browser.
# Years that a record may go back; DRIFTFIELD_RECORD_YEARS for another number of them.
RECORD_YEARS = int(os.environ.get("DRIFTFIELD_RECORD_YEARS", DEFAULTS.record_years))
PROBLEM_CAP = 5_000  # Problems of an import that are kept in full for the file of them.

# The market feed; the defaults are those of bin/driftfield feed-sim.
FEED_URL = os.environ.get("DRIFTFIELD_FEED_URL", "http://127.0.0.1:8765")
FEED_ID = os.environ.get("DRIFTFIELD_FEED_ID", "driftfield")
FEED_SECRET = os.environ.get("DRIFTFIELD_FEED_SECRET", "only-a-simulation")
FEED_ANYWHERE = os.environ.get("DRIFTFIELD_FEED_ANYWHERE") == "1"
FEED_TIMEOUT = 20.0  # Seconds to wait for an answer.
FEED_PATIENCE = 600.0  # Seconds without any good answer after which it is given up.
FEED_FIRST_WAIT = 0.5  # Seconds before the second try; it doubles from try to try.

# Which of the programs that share the data folder this is: server, worker or command.
# Mail goes into files of the data folder until a server is named.
MAIL_FOLDER = DATA_DIR / "mail"
EMAIL_HOST = os.environ.get("DRIFTFIELD_MAIL_HOST", "")
EMAIL_PORT = int(os.environ.get("DRIFTFIELD_MAIL_PORT", "25"))
EMAIL_HOST_USER = os.environ.get("DRIFTFIELD_MAIL_USER", "")
EMAIL_HOST_PASSWORD = os.environ.get("DRIFTFIELD_MAIL_PASSWORD", "")
EMAIL_USE_TLS = os.environ.get("DRIFTFIELD_MAIL_TLS") == "1"
EMAIL_TIMEOUT = 30
EMAIL_BACKEND = f"django.core.mail.backends.{'smtp' if EMAIL_HOST else 'filebased'}.EmailBackend"
EMAIL_FILE_PATH = MAIL_FOLDER
DEFAULT_FROM_EMAIL = os.environ.get("DRIFTFIELD_MAIL_FROM", "driftfield@localhost")

PROGRAM = os.environ.get("DRIFTFIELD_PROGRAM", "server")
log_file(DATA_DIR).parent.mkdir(exist_ok=True, mode=0o700)
LOGGING = configuration(
    DATA_DIR, PROGRAM, [SECRET_KEY, FEED_SECRET, *filter(None, [EMAIL_HOST_PASSWORD])]
)

USE_TZ = True
TIME_ZONE = "UTC"
LANGUAGE_CODE = "en-gb"

STATIC_URL = "static/"
WHITENOISE_ROOT = WEB_DIST if WEB_DIST.is_dir() else None
# The page itself comes from api.pages, which announces in it what a view asks for first.
WHITENOISE_INDEX_FILE = False


def WHITENOISE_IMMUTABLE_FILE_TEST(path: str, url: str) -> bool:
    """Vite puts a hash in the name of everything under assets/."""
    return url.startswith("/assets/")


REST_FRAMEWORK = {
    # One researcher on their own machine. Only JSON bodies are parsed, which a foreign page cannot
    # send without a preflight that is never answered; what takes no body asks where it comes from.
    "DEFAULT_AUTHENTICATION_CLASSES": [],
    "DEFAULT_PERMISSION_CLASSES": ["driftfield.api.permissions.SameOrigin"],
    "UNAUTHENTICATED_USER": None,
    "DEFAULT_PARSER_CLASSES": ["driftfield.api.plain_json.BoundedJSONParser"],
    "DEFAULT_RENDERER_CLASSES": ["driftfield.api.plain_json.PlainJSONRenderer"],
    "DEFAULT_SCHEMA_CLASS": "drf_spectacular.openapi.AutoSchema",
    "EXCEPTION_HANDLER": "driftfield.api.errors.handle",
}
SPECTACULAR_SETTINGS = {
    "TITLE": "Driftfield",
    "DESCRIPTION": "Niches of a marketplace, read and ranked. Unknown is null, never 0.",
    "VERSION": "0.1.0",
    "SERVE_INCLUDE_SCHEMA": False,
    "COMPONENT_SPLIT_REQUEST": True,
    "POSTPROCESSING_HOOKS": [
        "drf_spectacular.hooks.postprocess_schema_enums",
        "driftfield.api.contract.complete",
    ],
    "ENUM_NAME_OVERRIDES": {
        "Shape": [shape.value for shape in Shape],
        "Drift": [drift.value for drift in Drift],
        "Choice": "driftfield.desk.models.Choice",
        "KindName": [kind.plural for kind in KINDS],
        "CrossingKind": [kind.plural for kind in OF_TERMS],
        "ListedKind": [kind.plural for kind in LISTED],
        "SignalKey": list(SIGNALS_BY_KEY),
        "JobKind": "driftfield.work.models.Kind",
        "PlanState": ["drafted", "ordered", "dropped"],
        "YesNo": ["no", "yes"],
        "TermLanguage": list(STEMMED),
        "ToneEnum": ["chance", "caution", "note"],
        "ThemeTone": ["complaint", "praise", "either"],
        "MoreOrLess": ["more", "less"],
        "Supplied": ["wanted", "oversupplied"],
        "JobState": "driftfield.work.models.State",
        "OwnAgainst": [against.value for against in Against],
        "OwnVerdict": [verdict.value for verdict in OwnVerdict],
        "OwnBy": ["units", "searches"],
    },
}

# Addresses that name many niches: each is a field of the query.
DATA_UPLOAD_MAX_NUMBER_FIELDS = 100_000
DATA_UPLOAD_MAX_MEMORY_SIZE = 4 << 20  # Bytes of a body that is no file.

TEST_RUNNER = "tests.runner.Runner"
