"""Settings of the Hailstone site. What differs from place to place comes from the environment.

HAILSTONE_DATA   folder of the database and the secret key (default: `var` beside the source)
HAILSTONE_HOSTS  host names to answer to, separated by commas (default: this machine only)
HAILSTONE_SHOP   name of the workshop
HAILSTONE_TZ     time zone of the workshop (default: UTC)
"""

from __future__ import annotations

import os
from pathlib import Path

from csp.constants import NONE, SELF
from django.core.management.utils import get_random_secret_key

from hailstone.data_folder import DATABASE, data_folder
from hailstone.data_folder import SECRET_KEY as SECRET_KEY_FILE

PACKAGE = Path(__file__).resolve().parent
DATA = data_folder()


def _secret_key() -> str:
    """The key of this installation, made at the first start and kept readable for its owner only."""
    path = DATA / SECRET_KEY_FILE
    if not path.exists():
        DATA.mkdir(parents=True, exist_ok=True)
        descriptor = os.open(path, os.O_CREAT | os.O_EXCL | os.O_WRONLY, 0o600)
        with os.fdopen(descriptor, "w") as file:
            file.write(get_random_secret_key())
    return path.read_text()


SECRET_KEY = _secret_key()
DEBUG = False
ALLOWED_HOSTS = (os.environ.get("HAILSTONE_HOSTS") or "127.0.0.1,localhost,[::1]").split(",")

INSTALLED_APPS = [
    "django.contrib.auth",
    "django.contrib.contenttypes",
    "django.contrib.sessions",
    "django.contrib.messages",
    "django.contrib.staticfiles",
    "csp",
    "django_htmx",
    "hailstone.jobs",
    "hailstone.identify",
    "hailstone.hookup",
    "hailstone.correct",
    "hailstone.prove",
    "hailstone.lamp",
    "hailstone.units",
    "hailstone.wirebook",
]

MIDDLEWARE = [
    "django.middleware.security.SecurityMiddleware",
    "whitenoise.middleware.WhiteNoiseMiddleware",
    "csp.middleware.CSPMiddleware",
    "django.contrib.sessions.middleware.SessionMiddleware",
    "django.middleware.common.CommonMiddleware",
    "django.middleware.csrf.CsrfViewMiddleware",
    "django.contrib.auth.middleware.AuthenticationMiddleware",
    "django_htmx.middleware.HtmxMiddleware",
    "hailstone.shop.middleware.FragmentsKeepTheirPage",
    "django.contrib.auth.middleware.LoginRequiredMiddleware",
    "django.contrib.messages.middleware.MessageMiddleware",
    "hailstone.shop.middleware.FormAddressesSayWhatToDo",
    "hailstone.shop.middleware.BrokenJobsSayWhy",
    "django.middleware.clickjacking.XFrameOptionsMiddleware",
]

ROOT_URLCONF = "hailstone.urls"
WSGI_APPLICATION = "hailstone.wsgi.application"
TEMPLATES = [
    {
        "BACKEND": "django.template.backends.django.DjangoTemplates",
        "DIRS": [PACKAGE / "templates"],
        "APP_DIRS": True,
        "OPTIONS": {
            "context_processors": [
                "django.template.context_processors.request",
                "django.contrib.auth.context_processors.auth",
                "django.contrib.messages.context_processors.messages",
                "hailstone.shop.context.chrome",
            ],
            "builtins": ["hailstone.shop.templatetags.hailstone"],
        },
    }
]

DATABASES = {
    "default": {
        "ENGINE": "hailstone.sqlite",
        "NAME": DATA / DATABASE,
        "OPTIONS": {
            # a save that was shown survives a hard stop: full synchronisation, one writer at a time
            "init_command": "PRAGMA journal_mode=WAL; PRAGMA synchronous=FULL;",
            "transaction_mode": "IMMEDIATE",
            "timeout": 10,
        },
    }
}
DEFAULT_AUTO_FIELD = "django.db.models.BigAutoField"

WORKSHOP = os.environ.get("HAILSTONE_SHOP") or "Saltmarsh Auto Electric"

AUTH_PASSWORD_VALIDATORS = [
    {"NAME": "django.contrib.auth.password_validation.MinimumLengthValidator"},
    {"NAME": "django.contrib.auth.password_validation.UserAttributeSimilarityValidator"},
]
LOGIN_URL = "sign_in"
LOGIN_REDIRECT_URL = "board"
LOGOUT_REDIRECT_URL = "sign_in"
SESSION_COOKIE_AGE = 60 * 60 * 24 * 14
SESSION_COOKIE_SAMESITE = "Lax"
CSRF_FAILURE_VIEW = "hailstone.shop.views.stale_form"

LANGUAGE_CODE = "en-gb"
USE_I18N = False
USE_TZ = True
TIME_ZONE = os.environ.get("HAILSTONE_TZ") or "UTC"

STATIC_URL = "/static/"
STATICFILES_DIRS = [PACKAGE / "static"]
WHITENOISE_USE_FINDERS = True
WHITENOISE_MAX_AGE = 0  # asked for again each time, so an update never mixes old and new files
DATA_UPLOAD_MAX_MEMORY_SIZE = 2 * 1024 * 1024

X_FRAME_OPTIONS = "DENY"
SECURE_CONTENT_TYPE_NOSNIFF = True
SECURE_REFERRER_POLICY = "same-origin"
CONTENT_SECURITY_POLICY = {
    "DIRECTIVES": {
        "default-src": [NONE],
        "script-src": [SELF],
        "style-src": [SELF],
        "font-src": [SELF],
        "img-src": [SELF, "data:"],  # Bootstrap draws its form marks as data images
        "connect-src": [SELF],
        "form-action": [SELF],
        "base-uri": [NONE],
        "frame-ancestors": [NONE],
    }
}

LOGGING = {
    "version": 1,
    "disable_existing_loggers": False,
    "handlers": {"console": {"class": "logging.StreamHandler"}},
    "loggers": {
        "django": {"handlers": ["console"], "level": "WARNING"},
        "hailstone": {"handlers": ["console"], "level": "INFO"},
    },
}
