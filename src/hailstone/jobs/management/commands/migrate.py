"""`migrate`, with the database file copied aside before anything in it is changed."""

from __future__ import annotations

import logging
import sqlite3
from contextlib import closing
from pathlib import Path
from typing import Any

from django.core.management.commands.migrate import Command as Migrate
from django.db import connections
from django.db.migrations.executor import MigrationExecutor
from django.utils import timezone

log = logging.getLogger("hailstone")


class Command(Migrate):
    """Django's own, after a copy of what there is."""

    def handle(self, *args: Any, **options: Any) -> None:
        copy_aside(options["database"])
        super().handle(*args, **options)


def copy_aside(database: str) -> Path | None:
    """Copy the database file beside itself where migrations are to be applied to what is in it.

    Returns
    -------
    Path or None
        The copy, which is named in the log; None where there is nothing to lose or nothing to change.
    """
    connection = connections[database]
    executor = MigrationExecutor(connection)
    plan = executor.migration_plan(executor.loader.graph.leaf_nodes())
    file = Path(str(connection.settings_dict["NAME"]))
    if not plan or not executor.loader.applied_migrations or not file.is_file():
        return None
    when = timezone.localtime().strftime("%Y%m%d-%H%M%S")
    copy = file.with_name(f"{file.stem}-before-{plan[0][0].app_label}-{plan[0][0].name}-{when}{file.suffix}")
    with closing(sqlite3.connect(file)) as source, closing(sqlite3.connect(copy)) as target:
        source.backup(target)  # a consistent copy, whatever still stands in the write-ahead log
    log.info("Before migrating, the database was copied to %s", copy)
    return copy
