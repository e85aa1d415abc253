"""Every setting, read from the environment with a safe default.

The variables are listed in the README. Nothing here differs between a demo and a shop but the
values of those variables.
"""

import os
import re
import sys
from datetime import timedelta
from getpass import getuser
from pathlib import Path
from urllib.parse import urlsplit

from csp.constants import NONE, SELF
from django.http.request import validate_host

from cravik.config.environment import Environment
from cravik.config.lock import backup_lock
from cravik.config.secret_key import secret_key_in
from cravik.upkeep import logs
from cravik.upkeep.archive.keeping import Rule

env = Environment(os.environ)

PROJECT_DIR = Path(__file__).resolve().parent.parent.parent
DATA_DIR = Path(env.text("CRAVIK_DATA_DIR") or PROJECT_DIR / "var").resolve()

DEBUG = env.yes_or_no("CRAVIK_DEBUG")
#: Cravik's own names. Any other is refused by ``HostMiddleware``, unless it is a business's own and pointed here, which
#: Django's own setting could not know.
CRAVIK_ALLOWED_HOSTS = env.several("CRAVIK_ALLOWED_HOSTS", ["localhost", "127.0.0.1", "[::1]"])
ALLOWED_HOSTS = ["*"]

#: Where buyers reach this installation, without a slash at the end. Empty: as the request came.
CRAVIK_PUBLIC_ADDRESS = env.web_address("CRAVIK_PUBLIC_ADDRESS")
if CRAVIK_PUBLIC_ADDRESS and not validate_host(urlsplit(CRAVIK_PUBLIC_ADDRESS).hostname or "", CRAVIK_ALLOWED_HOSTS):
    env.note(
        "CRAVIK_PUBLIC_ADDRESS", "is not among CRAVIK_ALLOWED_HOSTS, so it would be answered to nobody. Add its host."
    )
#: Where the sample of other people's pages is, while it runs, and what answers there.
CRAVIK_OUTSIDE_ADDRESS = env.web_address("CRAVIK_OUTSIDE_ADDRESS")
CRAVIK_OUTSIDE_SITE = "cravik.demo.outside.site.application"
#: Whether a stranger may open a business of their own on this installation.
CRAVIK_OPEN_SIGN_UP = env.yes_or_no("CRAVIK_OPEN_SIGN_UP")
#: Whether the application is reached through HTTPS (behind a proxy that says so).
CRAVIK_HTTPS = env.yes_or_no("CRAVIK_HTTPS")
#: How many proxies of our own stand before the web server, each of which adds to ``X-Forwarded-For`` who asked it.
CRAVIK_TRUSTED_PROXIES = env.whole("CRAVIK_TRUSTED_PROXIES", 0, 0, 20)
#: How many payments from one network address may wait for their answer at a time; a school or a market shares one.
CRAVIK_UNDECIDED_PER_NETWORK = env.whole("CRAVIK_UNDECIDED_PER_NETWORK", 6, 1, 10_000)
#: How long the price that a page showed is charged; what is scarce is held for somebody who pays by card; and a
#: payment that nobody has decided is waited for. See ``ui/timings.py``.
CRAVIK_PRICE_PROMISED_MINUTES = env.whole("CRAVIK_PRICE_PROMISED_MINUTES", 15, 1, 24 * 60)
CRAVIK_HELD_WHILE_PAYING_MINUTES = env.whole("CRAVIK_HELD_WHILE_PAYING_MINUTES", 15, 1, 24 * 60)
CRAVIK_CALLED_OFF_MINUTES = env.whole("CRAVIK_CALLED_OFF_MINUTES", 15, 1, 24 * 60)
#: Where back-ups are kept; another disk than the data's, at best.
CRAVIK_BACKUPS = Path(env.text("CRAVIK_BACKUPS_DIR") or DATA_DIR / "backups").resolve()
#: Of how many days, weeks and months the newest daily back-up is kept; no days: all are. Others are never removed.
CRAVIK_BACKUPS_KEPT = Rule(
    days=env.whole("CRAVIK_BACKUPS_KEPT", 14, 0, 10_000),
    weeks=env.whole("CRAVIK_BACKUPS_KEPT_WEEKS", 8, 0, 10_000),
    months=env.whole("CRAVIK_BACKUPS_KEPT_MONTHS", 12, 0, 10_000),
)
#: What back-ups are locked with: a key that stands in a file, or a pass phrase; neither: they are not.
CRAVIK_BACKUP_LOCK = backup_lock(env, DATA_DIR)
#: Whether log lines are JSON objects.
CRAVIK_LOG_JSON = env.yes_or_no("CRAVIK_LOG_JSON")
#: Whether each answer is a line of the log: its view, status, time and size, and nothing of who asked.
CRAVIK_ACCESS_LOG = env.yes_or_no("CRAVIK_ACCESS_LOG")
#: What shows elsewhere that whoever asks may know how the installation is; empty: only the machine itself may.
CRAVIK_HEALTH_TOKEN = env.secret("CRAVIK_HEALTH_TOKEN", 16)
#: Whom to tell of a hole (RFC 9116), as ``mailto:`` or an address of a page; empty: nobody is named.
CRAVIK_SECURITY_CONTACT = env.text("CRAVIK_SECURITY_CONTACT")
if CRAVIK_SECURITY_CONTACT and not re.fullmatch(r"(mailto:[^\s@]+@[^\s@]+|https://\S+)", CRAVIK_SECURITY_CONTACT):
    env.note("CRAVIK_SECURITY_CONTACT", "is no address. Write mailto:you@your-name.example, or one with https://.")
#: For how many days browsers are told to ask this host through HTTPS alone (RFC 6797); 0: they are not told. Whether
#: that is said of every host below it too, and of being listed in browsers: neither can be taken back soon.
CRAVIK_HSTS_DAYS = env.whole("CRAVIK_HSTS_DAYS", 365, 0, 3650)
CRAVIK_HSTS_SUBDOMAINS = env.yes_or_no("CRAVIK_HSTS_SUBDOMAINS")
CRAVIK_HSTS_PRELOAD = env.yes_or_no("CRAVIK_HSTS_PRELOAD")
if CRAVIK_HSTS_PRELOAD and not (CRAVIK_HSTS_SUBDOMAINS and CRAVIK_HSTS_DAYS >= 365):
    env.note(
        "CRAVIK_HSTS_PRELOAD",
        "needs CRAVIK_HSTS_SUBDOMAINS=1 and a year of CRAVIK_HSTS_DAYS. Set both, or leave it out.",
    )
#: Where the web server listens, and how many processes answer; `serve` may be told otherwise.
CRAVIK_HOST = env.text("HOST", "127.0.0.1")
CRAVIK_PORT = env.whole("PORT", 8000, 1, 65_535)
CRAVIK_WEB_WORKERS = env.whole("WEB_WORKERS", 2, 1, 64)
env.refuse_wrong()  # before a folder is made
#: Only what serves makes a folder; any other command on one that holds no Cravik leaves it as it is.
IS_A_CRAVIK = (DATA_DIR / "cravik.sqlite3").exists() or sys.argv[1:2] == ["serve"]
if IS_A_CRAVIK and DATA_DIR.exists() and not os.access(DATA_DIR, os.W_OK | os.X_OK):
    env.note(
        "CRAVIK_DATA_DIR",
        f"cannot be written by user {getuser()}: {DATA_DIR}. Run Cravik as the user whose folder it is, on a disk that"
        " may be written, or name another folder.",
    )
try:
    SECRET_KEY = env.text("CRAVIK_SECRET_KEY") or secret_key_in(DATA_DIR / "secret_key", may_be_made=IS_A_CRAVIK)
except OSError as trouble:
    env.note("CRAVIK_DATA_DIR", f"cannot be used: {trouble.strerror} ({trouble.filename}). Name a folder of your own.")
env.refuse_wrong()

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.humanize",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "django.forms",
    "axes",
    "csp",
    "django_tasks",
    "django_tasks_db",
    "cravik.upkeep",
    "cravik.ui",
    "cravik.people",
    "cravik.events",
    "cravik.buyers",
    "cravik.setup",
    "cravik.journal",
    "cravik.mailroom",
    "cravik.catalogue",
    "cravik.links",
    "cravik.checkout",
    "cravik.payments",
    "cravik.payments.counter",
    "cravik.orders",
    "cravik.results",
    "cravik.share",
    "cravik.demo",
]

MIDDLEWARE = [
    "cravik.upkeep.logs.RequestLogMiddleware",
    "cravik.config.hosts.HostMiddleware",
    "cravik.ui.middleware.SearchEnginesMiddleware",
    "cravik.ui.middleware.SchemeMiddleware",
    "django.middleware.security.SecurityMiddleware",
    "cravik.ui.encoding.TagByEncodingMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "cravik.ui.encoding.SmallerPagesMiddleware",
    "csp.middleware.CSPMiddleware",
    "cravik.ui.middleware.DatabaseTroubleMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
    "axes.middleware.AxesMiddleware",
]

ROOT_URLCONF = "cravik.config.urls"
WSGI_APPLICATION = "cravik.config.wsgi.application"

_template_loaders = [
    "django.template.loaders.filesystem.Loader",
    "django.template.loaders.app_directories.Loader",
]
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "cravik.ui.framing.where_it_stands",
            ],
            "loaders": _template_loaders if DEBUG else [("django.template.loaders.cached.Loader", _template_loaders)],
        },
    },
]

DATABASE_FILE = DATA_DIR / "cravik.sqlite3"
DATABASE_OPTIONS = {
    # Writers queue at BEGIN instead of failing at their first write.
    "transaction_mode": "IMMEDIATE",
    "timeout": 10,
    # FULL: a payment that was confirmed to a buyer survives a power cut.
    "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL; PRAGMA foreign_keys=ON;",
}
DATABASE = {
    "ENGINE": "cravik.upkeep.queued_sqlite",
    "NAME": DATABASE_FILE,
    "CONN_MAX_AGE": 600,
    "OPTIONS": DATABASE_OPTIONS,
    "TEST": {"NAME": DATA_DIR / "test.sqlite3"},
}
DATABASES = {"default": DATABASE}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

AUTH_USER_MODEL = "setup.User"
AUTHENTICATION_BACKENDS = [
    "axes.backends.AxesStandaloneBackend",
    "django.contrib.auth.backends.ModelBackend",
]
AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator", "OPTIONS": {"min_length": 10}},
    {"NAME": "django.contrib.auth.password_validation.CommonPasswordValidator"},
]
PASSWORD_RESET_TIMEOUT = 3600
LOGIN_URL = "people:sign_in"
LOGIN_REDIRECT_URL = "results:links"
LOGOUT_REDIRECT_URL = "people:sign_in"

AXES_FAILURE_LIMIT = 5
AXES_COOLOFF_TIME = timedelta(minutes=15)
AXES_LOCKOUT_PARAMETERS = [["username", "ip_address"]]
AXES_CLIENT_IP_CALLABLE = "cravik.people.devices.counted_address"
AXES_USERNAME_FORM_FIELD = "username"
AXES_LOCKOUT_TEMPLATE = "people/locked_out.html"
AXES_RESET_ON_SUCCESS = True
AXES_DISABLE_ACCESS_LOG = True
AXES_VERBOSE = False

LANGUAGE_CODE = "en"
TIME_ZONE = "UTC"
USE_TZ = True
USE_I18N = False

STATIC_URL = "static/"
STATIC_ROOT = DATA_DIR / "static"
STORAGES = {
    "default": {"BACKEND": "django.core.files.storage.FileSystemStorage"},
    "staticfiles": {
        "BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"
        if DEBUG
        else "whitenoise.storage.CompressedManifestStaticFilesStorage",
    },
}
WHITENOISE_KEEP_ONLY_HASHED_FILES = True

#: Fields of forms are shown by the product's own template.
FORM_RENDERER = "cravik.ui.form_fields.Renderer"

CACHES = {
    "default": {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"},
    # Known to all processes: how far background work is, and how often something was tried.
    "shared": {"BACKEND": "django.core.cache.backends.filebased.FileBasedCache", "LOCATION": DATA_DIR / "shared"},
}
TASKS = {"default": {"BACKEND": "django_tasks_db.DatabaseBackend"}}
#: Work done by the clock: dotted path of a task and every how many seconds it falls due.
CRAVIK_TIMED_TASKS = {
    "cravik.orders.tasks.reconcile_cut_off_payments": 60,
    "cravik.orders.running.tasks.collect_what_is_due": 60,
    "cravik.links.tasks.end_due_links": 60,
    "cravik.orders.tasks.forget_who_did_not_pay": 3600,
    "cravik.links.waiting.tasks.write_to_waiting": 60,
    "cravik.orders.letter_tasks.write_due_letters": 60,
    "cravik.mailroom.tasks.deliver_waiting_letters": 60,
    "cravik.catalogue.table_work.import_waiting_tables": 60,
    "cravik.orders.tasks.sum_days_that_are_over": 300,
    "cravik.journal.tasks.forget_networks_of_the_past": 600,
    "cravik.upkeep.tasks.forget_tries_of_the_past": 3600,
    "cravik.upkeep.tasks.forget_finished_tasks": 3600,
    "cravik.upkeep.tasks.look_at_sizes": 6 * 3600,
    "cravik.upkeep.tasks.back_up": 300,
    "cravik.upkeep.tasks.beat": 30,
}
#: What is put right before the server takes its first request.
CRAVIK_AT_START = ["cravik.orders.tasks.reconcile_all_payments"]

CRAVIK_GATEWAY = "cravik.payments.counter.gateway.CounterGateway"
EMAIL_BACKEND = "cravik.mailroom.backend.MailroomBackend"
DEFAULT_FROM_EMAIL = "cravik@localhost"

SESSION_COOKIE_HTTPONLY = True
SESSION_COOKIE_NAME = "cravik_seller"
CSRF_COOKIE_NAME = "cravik_form"
CSRF_COOKIE_HTTPONLY = True
CSRF_FAILURE_VIEW = "cravik.ui.views.stale_form"
X_FRAME_OPTIONS = "DENY"
SECURE_REFERRER_POLICY = "same-origin"
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024
FILE_UPLOAD_HANDLERS = [
    "cravik.ui.uploads.BoundedUploadHandler",
    "django.core.files.uploadhandler.MemoryFileUploadHandler",
    "django.core.files.uploadhandler.TemporaryFileUploadHandler",
]
#: Where the pictures of items are kept.
CRAVIK_PICTURES = DATA_DIR / "pictures"
#: Where the files that buyers download are kept.
CRAVIK_FILES = DATA_DIR / "files"
DATA_UPLOAD_MAX_NUMBER_FIELDS = 2000

if CRAVIK_HTTPS:
    SECURE_SSL_REDIRECT = True
    SECURE_REDIRECT_EXEMPT = ["^healthy/$", "^healthy/deep/$", "^metrics$"]
    SECURE_PROXY_SSL_HEADER = ("HTTP_X_FORWARDED_PROTO", "https")
    SECURE_HSTS_SECONDS = CRAVIK_HSTS_DAYS * 24 * 3600
    SECURE_HSTS_INCLUDE_SUBDOMAINS = CRAVIK_HSTS_SUBDOMAINS
    SECURE_HSTS_PRELOAD = CRAVIK_HSTS_PRELOAD
    # Both are the owner's to say: they would hold for every other site of the same name.
    SILENCED_SYSTEM_CHECKS = ["security.W005", "security.W021"]
    # The redirect leads to where buyers reach it, whatever the request said.
    SECURE_SSL_HOST = urlsplit(CRAVIK_PUBLIC_ADDRESS).netloc or None
    SESSION_COOKIE_SECURE = True
    CSRF_COOKIE_SECURE = True

CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "img-src": [SELF, "data:"],
        "font-src": [SELF],
        "connect-src": [SELF],
        "frame-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

LOGGING = logs.configure(as_json=CRAVIK_LOG_JSON)
