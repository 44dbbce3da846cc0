"""A data folder that cannot be used is one line at the start, with what to do: no traceback, nothing started."""

import sqlite3

import pytest

from electrics.errors import InputError
from hailstone.data_folder import DATABASE, SECRET_KEY, check_database, check_folder

KNOWN = frozenset({("jobs", "0001_initial")})


def database(folder, *statements):
    with sqlite3.connect(folder / DATABASE) as found:
        for statement in statements:
            found.execute(statement)
    found.close()
    return folder


def migrated(folder, *rows):
    made = "CREATE TABLE django_migrations (app, name)"
    return database(
        folder, made, *(f"INSERT INTO django_migrations VALUES ('{app}', '{name}')" for app, name in rows)
    )


def cut_in_half(folder):
    migrated(folder, ("jobs", "0001_initial"))
    database(folder, "CREATE TABLE t (a)", *(f"INSERT INTO t VALUES (zeroblob({n}00))" for n in range(99)))
    path = folder / DATABASE
    path.write_bytes(path.read_bytes()[:9000] + bytes(3000))


@pytest.mark.parametrize(
    ("spoil", "says"),
    [
        (lambda folder: (folder / DATABASE).write_bytes(b"no database at all" * 99), "damaged"),
        (cut_in_half, "damaged"),
        (lambda folder: database(folder, "CREATE TABLE t (a)"), "another program"),
        (lambda folder: migrated(folder, ("jobs", "0001_initial"), ("prove", "0099_later")), "newer version"),
    ],
)
def test_a_database_that_is_none_of_ours_is_refused(tmp_path, spoil, says):
    spoil(tmp_path)
    with pytest.raises(InputError, match=says) as refused:
        check_database(tmp_path, KNOWN)
    assert "\n" not in str(refused.value)


def test_our_own_database_and_none_yet_are_used(tmp_path):
    check_database(tmp_path, KNOWN)
    check_database(migrated(tmp_path, ("jobs", "0001_initial")), KNOWN)


def test_a_folder_that_is_none_a_full_disk_and_an_empty_key_are_refused(tmp_path, monkeypatch):
    check_folder(tmp_path / "new")
    (tmp_path / "file").touch()
    with pytest.raises(InputError, match="Can't write"):
        check_folder(tmp_path / "file")
    (tmp_path / SECRET_KEY).touch()
    with pytest.raises(InputError, match="empty or cut short"):
        check_folder(tmp_path)
    monkeypatch.setattr("shutil.disk_usage", lambda path: type("Usage", (), {"free": 1000}))
    with pytest.raises(InputError, match="full"):
        check_folder(tmp_path / "new")
