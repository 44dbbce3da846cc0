"""Answers that would otherwise leave a person before an empty or a wrong page."""

from __future__ import annotations

from collections.abc import Callable
from urllib.parse import urlencode

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import render, resolve_url
from django_htmx.http import HttpResponseClientRedirect
from django_htmx.middleware import HtmxDetails

from hailstone.layers.broken import CannotComputeError
from hailstone.shop.views import only_forms


class FragmentsKeepTheirPage:
    """A fragment request of someone no longer signed in reloads the page, which then asks to sign in.

    Drafts stay in the browser, so nothing typed is lost on the way.
    """

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_view(self, request: HttpRequest, view: object, args: object, kwargs: object) -> HttpResponse | None:
        htmx: HtmxDetails | None = getattr(request, "htmx", None)
        if htmx and not request.user.is_authenticated:
            back = htmx.current_url_abs_path or "/"
            return HttpResponseClientRedirect(f"{resolve_url(settings.LOGIN_URL)}?{urlencode({'next': back})}")
        return None


class BrokenJobsSayWhy:
    """A page of a job that cannot be computed says so, with the reason and the way to its brief."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        return self.get_response(request)

    def process_exception(self, request: HttpRequest, exception: Exception) -> HttpResponse | None:
        if not isinstance(exception, CannotComputeError):
            return None
        if getattr(request, "htmx", False):
            return HttpResponseClientRedirect(resolve_url("brief", exception.broken.job.pk))
        return render(request, "broken.html", {"view": exception.broken, "layer": ""}, status=409)


class FormAddressesSayWhatToDo:
    """An address that only takes forms, opened by hand or reloaded, says where to go instead of showing nothing."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if response.status_code == 405 and not response.content:
            return only_forms(request)
        return response
