"""SQLite with many parameters a statement: Django reckons with the 999 of releases before 3.32.

With them 2,000 rows are a few statements instead of dozens, and the write lock is short.
"""

from __future__ import annotations

from django.db.backends.sqlite3 import base, features

__all__ = ["DatabaseWrapper"]


class DatabaseFeatures(features.DatabaseFeatures):
    max_query_params = 32766


class DatabaseWrapper(base.DatabaseWrapper):
    features_class = DatabaseFeatures
