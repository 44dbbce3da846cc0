"""What every page needs around its content."""

from __future__ import annotations

from django.conf import settings
from django.http import HttpRequest

THEMES = ("daylight", "night")


def chrome(request: HttpRequest) -> dict[str, str]:
    """The chosen theme, daylight unless the cookie says night, and the workshop's name."""
    theme = request.COOKIES.get("theme", "")
    return {"theme": theme if theme in THEMES else "daylight", "workshop": settings.WORKSHOP}
