"""Signing in, the theme, and the pages for what went wrong."""

from __future__ import annotations

from django.contrib.auth.decorators import login_not_required
from django.contrib.auth.views import LoginView, LogoutView
from django.http import HttpRequest, HttpResponse, HttpResponseRedirect
from django.shortcuts import render
from django.utils.http import url_has_allowed_host_and_scheme
from django.views.decorators.http import require_GET, require_POST

from electrics.reference.glossary import glossary
from hailstone.shop.context import THEMES


class SignIn(LoginView):
    template_name = "sign_in.html"
    redirect_authenticated_user = True


class SignOut(LogoutView):
    pass


@login_not_required
@require_POST
def theme(request: HttpRequest) -> HttpResponse:
    """Remember daylight or night for a year and go back to where it was chosen."""
    response = HttpResponseRedirect(safe_path(request, request.POST.get("next", "/")))
    if request.POST.get("theme") in THEMES:
        response.set_cookie("theme", request.POST["theme"], max_age=31_536_000, samesite="Lax")
    return response


@require_GET
def words(request: HttpRequest) -> HttpResponse:
    """The glossary: one word for one thing."""
    return render(request, "words.html", {"terms": list(glossary())})


def safe_path(request: HttpRequest, target: str, otherwise: str = "/") -> str:
    """An address of this site to go back to; the board, or `otherwise`, for anything else."""
    try:
        is_ours = url_has_allowed_host_and_scheme(target, allowed_hosts={request.get_host()})
    except ValueError:  # no address at all, such as an unclosed bracket
        return otherwise
    return target if is_ours and target.startswith("/") and target.isprintable() else otherwise


@login_not_required
def not_found(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _trouble(
        request,
        404,
        "There is nothing at this address",
        "The job, lamp or page may have been removed, or the address was cut short. "
        "Go to the job board and open it from there.",
    )


@login_not_required
def bad_request(request: HttpRequest, exception: Exception) -> HttpResponse:
    return _trouble(request, 400, "Bad request", "Go back, reload the page and try once more.")


def only_forms(request: HttpRequest) -> HttpResponse:
    return _trouble(
        request,
        405,
        "There is nothing to look at here",
        "This address only takes a form. Go back to the page with the form, or open the job from the board.",
    )


@login_not_required
def failed(request: HttpRequest) -> HttpResponse:
    return _trouble(
        request,
        500,
        "Something in Hailstone broke",
        "What was shown as saved is kept. Go back and try again; "
        "if it breaks again, note what you did and tell whoever looks after this installation.",
    )


@login_not_required
def stale_form(request: HttpRequest, reason: str = "") -> HttpResponse:
    return _trouble(
        request,
        403,
        "This form expired",
        "You signed in again, or the page was open too long. Go back, reload the page and send it again. Anything "
        "shown as saved is safe.",
    )


def _trouble(request: HttpRequest, status: int, title: str, text: str) -> HttpResponse:
    return render(request, "trouble.html", {"title": title, "text": text, "status": status}, status=status)
