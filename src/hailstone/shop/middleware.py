"""Answers that would otherwise leave a person before an empty or a wrong page."""

from __future__ import annotations

from collections.abc import Callable

from django.conf import settings
from django.http import HttpRequest, HttpResponse
from django.shortcuts import resolve_url
from django_htmx.http import HttpResponseClientRedirect

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
        if getattr(request, "htmx", False) and not request.user.is_authenticated:
            back = request.htmx.current_url_abs_path or "/"
            return HttpResponseClientRedirect(f"{resolve_url(settings.LOGIN_URL)}?next={back}")
        return None


class FormAddressesSayWhatToDo:
    """An address that only takes forms, opened by hand or reloaded, says where to go instead of showing nothing."""

    def __init__(self, get_response: Callable[[HttpRequest], HttpResponse]) -> None:
        self.get_response = get_response

    def __call__(self, request: HttpRequest) -> HttpResponse:
        response = self.get_response(request)
        if response.status_code == 405 and not response.content:
            return only_forms(request)
        return response
