"""Whether the data folder can be used: said in one line, with what to do, before anything is started."""

from __future__ import annotations

import os
import shutil
import sqlite3
import tempfile
from contextlib import closing
from pathlib import Path

from electrics.errors import InputError

__all__ = ["DATABASE", "SECRET_KEY", "check_database", "check_folder", "data_folder"]

DATABASE, SECRET_KEY = "hailstone.sqlite3", "secret-key"
LEAST_FREE = 20 * 1024**2
"""Room that a start needs [byte]: the database grows while it is brought up to date."""
SHORTEST_KEY = 20


class DataFolderError(InputError):
    """The data folder cannot be used as it is."""


def data_folder() -> Path:
    """The folder of the database and the secret key."""
    return Path(os.environ.get("HAILSTONE_DATA") or Path(__file__).resolve().parents[2] / "var").resolve()


def check_folder(folder: Path) -> None:
    """Refuse a folder that nothing can be written to, a disk that is full, and a secret key that is none.

    Raises
    ------
    DataFolderError
        What is wrong, and what to do.
    """
    try:
        folder.mkdir(parents=True, exist_ok=True)
        with tempfile.TemporaryFile(dir=folder):
            pass
    except OSError as error:
        raise DataFolderError(
            f"Can't write to the data folder {folder} ({error.strerror}). Make it writable, or point HAILSTONE_DATA "
            "to another folder."
        ) from error
    if shutil.disk_usage(folder).free < LEAST_FREE:
        raise DataFolderError(f"The disk of {folder} is full. Free {LEAST_FREE // 1024**2} MB, then start again.")
    key = folder / SECRET_KEY
    try:
        is_short = key.exists() and len(key.read_text("utf-8").strip()) < SHORTEST_KEY
    except (OSError, UnicodeDecodeError) as error:
        raise DataFolderError(f"Can't read {key}. {_NEW_KEY}") from error
    if is_short:
        raise DataFolderError(f"{key} is empty or cut short. {_NEW_KEY}")


_NEW_KEY = "Delete it and start again: a new one is made, and everybody signs in anew."


def check_database(folder: Path, known: frozenset[tuple[str, str]]) -> None:
    """Refuse a database that is spoilt, another program's, made by a newer version, or cannot be written.

    Parameters
    ----------
    folder : Path
    known : frozenset of (str, str)
        The changes of the database that this version knows: app and name.

    Raises
    ------
    DataFolderError
        What is wrong, and what to do.
    """
    path = folder / DATABASE
    if not path.exists() or not path.stat().st_size:
        return
    try:
        with closing(sqlite3.connect(path, timeout=10)) as database:
            verdict = database.execute("PRAGMA quick_check(1)").fetchone()[0]
            tables = {name for (name,) in database.execute("SELECT name FROM sqlite_master WHERE type = 'table'")}
            done = set(database.execute("SELECT app, name FROM django_migrations")) if MIGRATIONS in tables else set()
            database.execute("BEGIN IMMEDIATE")
            database.rollback()
    except sqlite3.OperationalError as error:
        raise DataFolderError(
            f"Can't use the database {path} ({error}). Make it writable and stop other copies of Hailstone, then "
            "start again."
        ) from error
    except sqlite3.DatabaseError as error:
        raise DataFolderError(f"{path} is no database, or damaged. {_RESTORE}") from error
    if verdict != "ok":
        raise DataFolderError(f"{path} is damaged ({verdict[:60]}). {_RESTORE}")
    if tables and not any(app == "jobs" for app, _ in done):
        raise DataFolderError(
            f"{path} belongs to another program. Move it away, or point HAILSTONE_DATA to another folder."
        )
    newer = sorted(f"{app} {name}" for app, name in done if (app, name) not in known and app in OURS)
    if newer:
        raise DataFolderError(
            f"{path} was made by a newer version of Hailstone ({newer[0]}). Install that version, or restore an "
            "earlier copy."
        )


MIGRATIONS = "django_migrations"
OURS = ("jobs", "identify", "hookup", "correct", "prove", "lamp", "units", "wirebook")
_RESTORE = "Put back a copy of it, or move it away to begin anew."
