"""The database as an earlier version left it, and on to the latest."""

from __future__ import annotations

from django.db import connection
from django.db.migrations.executor import MigrationExecutor


def latest():
    return list(MigrationExecutor(connection).loader.graph.leaf_nodes())


def migrated(targets):
    """Migrates there and gives the models as they are then."""
    executor = MigrationExecutor(connection)
    executor.migrate(targets)
    return MigrationExecutor(connection).loader.project_state(targets).apps
