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


def begun_job(apps, **facts):
    """A job as an earlier version stored it, and who began it."""
    who = apps.get_model("auth", "User").objects.create(username="ina")
    vehicle = apps.get_model("jobs", "Vehicle").objects.create(make="Merrow", model="Skua", year=2014)
    facts = {"added_count": 2, "added_each_a": 0.4, "supply_v": 12.6, "created_by": who, "changed_by": who, **facts}
    return apps.get_model("jobs", "Job").objects.create(vehicle=vehicle, title="lamps", **facts), who
