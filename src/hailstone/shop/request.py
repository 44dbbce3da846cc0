"""A request as the views get it: somebody has signed in, and htmx is known."""

from __future__ import annotations

from django.contrib.auth.models import User
from django.http import HttpRequest
from django_htmx.middleware import HtmxDetails

__all__ = ["Request"]


class Request(HttpRequest):
    """A request past the middleware: nobody gets to a view without an account."""

    user: User
    htmx: HtmxDetails
