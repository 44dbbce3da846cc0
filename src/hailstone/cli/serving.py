"""Prepares the database and starts the web server."""

from __future__ import annotations

import os
import socket
import sys
from pathlib import Path
from typing import NoReturn

from electrics.errors import InputError
from hailstone.data_folder import DATABASE, check_database, check_folder, data_folder


def _setup() -> None:
    """Load the settings; a data folder that cannot be used is an InputError in one line."""
    check_folder(data_folder())
    import django

    os.environ.setdefault("DJANGO_SETTINGS_MODULE", "hailstone.settings")
    django.setup()


def prepare_database() -> None:
    """Make the database or bring it up to date.

    Raises
    ------
    InputError
        The data folder or the database cannot be used.
    """
    _setup()
    from django.core.management import call_command
    from django.db import DatabaseError
    from django.db.migrations.loader import MigrationLoader

    known = frozenset(MigrationLoader(None).disk_migrations)
    check_database(data_folder(), known)
    try:
        call_command("migrate", verbosity=0)
    except (DatabaseError, OSError) as error:
        raise InputError(
            f"The database in {data_folder()} could not be brought up to date ({error}). Is the disk full, or "
            "another copy of Hailstone running? Nothing was lost: mend that, then start again."
        ) from error


def _check_free(host: str, port: int) -> None:
    with socket.socket() as trial:
        trial.setsockopt(socket.SOL_SOCKET, socket.SO_REUSEADDR, 1)
        try:
            trial.bind((host, port))
        except OSError as error:
            raise InputError(
                f"Nothing can listen on {host}:{port} ({error.strerror}). Is Hailstone running there already? "
                "Choose another port: PORT=9000 make demo."
            ) from error


def _nobody_can_sign_in() -> bool:
    from django.contrib.auth import get_user_model

    return not get_user_model().objects.filter(is_active=True).exists()


def prepare_demo(*, reset: bool = False) -> None:
    """The database with the demo in it; what was entered stays unless `reset`."""
    if reset:
        _setup()
        from django.conf import settings

        for suffix in ("", "-wal", "-shm"):
            Path(str(settings.DATABASES["default"]["NAME"])).with_name(f"{DATABASE}{suffix}").unlink(missing_ok=True)
    prepare_database()
    if _nobody_can_sign_in():  # else it is not new, and all that the demo is made with need not be loaded
        from hailstone.demo.jobs import load_demo

        load_demo()


def serve(host: str, port: int, *, with_demo_login: bool = False) -> NoReturn:
    """Run gunicorn on this address until it is stopped.

    Raises
    ------
    InputError
        Something else listens there already.
    """
    _check_free(host, port)
    if host not in ("127.0.0.1", "localhost"):
        os.environ.setdefault("HAILSTONE_HOSTS", "*")
    shown = "127.0.0.1" if host == "0.0.0.0" else host
    sys.stderr.write(f"Hailstone is at http://{shown}:{port}/\n")
    if _nobody_can_sign_in():
        sys.stderr.write("Nobody can sign in yet. Stop, run: hailstone user NAME, and serve again.\n")
    if with_demo_login:
        from hailstone.demo.login import DEMO_PASSWORD, DEMO_USER

        sys.stderr.write(f"Demo login: {DEMO_USER}, password {DEMO_PASSWORD}\n")
    sys.stderr.write("Stop with Ctrl+C.\n")
    sys.stderr.flush()
    arguments = [
        sys.executable,
        "-m",
        "gunicorn",
        "hailstone.wsgi:application",
        "--bind",
        f"{host}:{port}",
        "--workers",
        os.environ.get("WEB_CONCURRENCY", "2"),  # gunicorn's own name for it
        "--threads",
        "4",
        "--preload",
        "--log-level",
        "warning",
    ]
    os.execv(sys.executable, arguments)  # replaces this process
