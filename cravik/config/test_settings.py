"""The settings under which tests run: the same application, quick and without its worker."""

from cravik.config.settings import *  # noqa: F403
from cravik.config.settings import DATABASE, DATABASE_OPTIONS, STATIC_ROOT, STORAGES

SECRET_KEY = "only for tests, where nothing is worth protecting"
IS_A_CRAVIK = True
TEST_RUNNER = "tests.runner.FreshRunner"
CRAVIK_ALLOWED_HOSTS = ["testserver", "localhost", "127.0.0.1"]
CRAVIK_PUBLIC_ADDRESS = ""
CRAVIK_OPEN_SIGN_UP = False
PASSWORD_HASHERS = ["django.contrib.auth.hashers.MD5PasswordHasher"]
AXES_ENABLED = False
TASKS = {"default": {"BACKEND": "django_tasks.backends.immediate.ImmediateBackend"}}
CACHES = {name: {"BACKEND": "django.core.cache.backends.locmem.LocMemCache"} for name in ("default", "shared")}
STORAGES = STORAGES | {"staticfiles": {"BACKEND": "django.contrib.staticfiles.storage.StaticFilesStorage"}}
# The parallel runner copies the main database file alone, so nothing may be left in a log file.
OPTIONS = DATABASE_OPTIONS | {
    "init_command": "PRAGMA journal_mode=DELETE; PRAGMA synchronous=OFF; PRAGMA foreign_keys=ON;"
}
DATABASES = {"default": DATABASE | {"OPTIONS": OPTIONS}}
LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"nowhere": {"class": "logging.NullHandler"}},
    "root": {"handlers": ["nowhere"], "level": "WARNING"},
    "loggers": {"django": {"handlers": ["nowhere"], "propagate": True}},
}
STATIC_ROOT.mkdir(parents=True, exist_ok=True)  # WhiteNoise warns where it is missing
