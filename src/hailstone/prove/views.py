"""Build and Prove: tick, test, sign, print."""

from __future__ import annotations

from django import forms
from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.utils import timezone
from django.views.decorators.http import require_GET, require_POST

from electrics.errors import FactError, InputError
from electrics.prove.sheet import Outcome
from hailstone.layers.overviews import job_overview
from hailstone.layers.plans import assumptions_of
from hailstone.layers.progress import Overview
from hailstone.layers.signed import signed_facts, token_of
from hailstone.layers.wirebook import keep_job
from hailstone.prove import services, shown
from hailstone.prove.build_content import build_context
from hailstone.prove.later import later
from hailstone.shop.request import Request
from hailstone.wording import proof as wording
from hailstone.wording.findings import fault_sentences, open_sentences
from hailstone.wording.hookup import assumption_sentence
from hailstone.wording.steps import left_text
from hailstone.wording.words import counted, listed

MOST_TOLD = 5
"""Assumptions that are told on the sheet, of those that would change the plan [-]."""


class SignForm(forms.Form):
    """What is still temporary, and when to look again."""

    temporary = forms.CharField(max_length=200, required=False)
    look_again_on = forms.DateField(required=False)


@require_GET
def build(request: Request, job_id: int) -> HttpResponse:
    """The build sheet, one step open."""
    return _build(request, job_overview(job_id), at=request.GET.get("step", ""))


@require_GET
def assumed(request: Request, job_id: int) -> HttpResponse:
    """What was assumed and would change the plan, the most telling first; asked for by the sheet once it stands."""
    view = job_overview(job_id)
    found = assumptions_of(view.job.pk, view.derived) if view.plan.is_begun else ()
    telling = [each for each in found if each.changes_at is not None or each.is_dangerous]
    context = {
        "telling": [assumption_sentence(each) for each in telling[:MOST_TOLD]],
        "rest": len(telling) - MOST_TOLD,
    }
    return render(request, "prove/_assumed.html", context)


@require_POST
def tick(request: Request, job_id: int) -> HttpResponse:
    """Tick a step of the build sheet, or untick it."""
    view = job_overview(job_id)
    step = request.POST.get("step", "")
    try:
        value = services.TickState(request.POST.get("value", ""))
        services.tick(view.job, step, value, request.user)
    except FactError as error:
        return _build(request, view, problem=str(error), at=step)
    except (ValueError, KeyError) as error:
        raise Http404("no such step") from error
    if not request.htmx:
        return redirect("build", job_id=job_id)
    return _build(request, job_overview(job_id))


@require_GET
def prove(request: Request, job_id: int) -> HttpResponse:
    """The test sheet, one state open."""
    return _prove(request, job_overview(job_id), request.GET.get("state", ""))


@require_POST
def record(request: Request, job_id: int) -> HttpResponse:
    """Store what was seen on one line, or that a whole state is as expected."""
    view = job_overview(job_id)
    if view.proof is None or not view.plan.is_begun:
        raise Http404("nothing to prove yet")
    post, problem, status = request.POST, "", 200
    try:
        outcome = Outcome(post.get("outcome", ""))
        if "line" in post:
            seen, reading, note = (post.get(name, "") for name in ("seen", "reading", "note"))
            services.record_line(view.job, post["line"], outcome, request.user, seen=seen, reading=reading, note=note)
        elif outcome is Outcome.PASS:
            seen_of = dict(each.rpartition("=")[::2] for each in post.getlist("seen"))
            theirs = services.record_state(view.job, post.get("group", ""), request.user, seen=seen_of)
            problem = _left_alone(job_overview(job_id), theirs)
        else:
            raise Http404("no such line")
    except services.OvertakenError as error:
        problem, status = str(error), 409
    except InputError as error:
        problem, status = str(error), 422
        # what was passed before is not passed with a reading that was refused
        services.record(view.job, [view.proof.sheet.line(post["line"])], Outcome.UNTESTED, request.user)
    except (KeyError, ValueError) as error:
        raise Http404("no such line") from error
    view = job_overview(job_id)
    state, wrong = post.get("state", ""), post.get("line", "") if status == 422 else ""
    return _prove(request, view, state, problem=problem, wrong_line=wrong, status=status)


def _left_alone(view: Overview, keys: list[str]) -> str:
    """Which lines of a state somebody else recorded while it was passed; empty for none."""
    found = [view.proof.last[key] for key in keys] if view.proof else []
    names = [f"{wording.OUTCOMES[each.outcome]} by {each.who}" for each in found]
    lines = f"{counted(len(found), 'line')} recorded meanwhile"
    return f"{lines} ({listed(names)}) and left as recorded." if found else ""


@require_POST
def sign(request: Request, job_id: int) -> HttpResponse:
    """Put a name under a passed sheet."""
    view = job_overview(job_id)
    form = SignForm(request.POST)
    if view.proof is None or not view.plan.is_begun:
        raise Http404("nothing to sign yet")
    if not form.is_valid():
        problem = "Not signed: the date to look again is written as 2026-05-31."
        return _prove(request, view, "", problem=problem, status=422)
    try:
        revision = services.sign(view.job, request.user, **form.cleaned_data, seen=request.POST.get("seen", ""))
    except InputError as error:
        return _prove(request, view, "", problem=str(error), status=422)
    kept = keep_job(view.job, request.user)
    messages.success(
        request,
        f"Signed as revision {revision.number}. The sheet can be printed now; {kept} proven wires are in the wire "
        "book.",
    )
    return redirect("prove", job_id=job_id)


def _build(request: Request, view: Overview, *, problem: str = "", at: str = "") -> HttpResponse:
    context = build_context(view)
    steps = context["steps"]
    context["current"] = next((each for each in steps if each.key == at), None) or next(
        (each for each in steps if each.is_open), None
    )
    context |= {"left": left_text(view.stands, timezone.localtime()), "problem": problem}
    template = "prove/_build.html" if request.htmx else "prove/build.html"
    return render(
        request,
        template,
        {**context, "page": {**context, "is_part": bool(request.htmx)}},
        status=422 if problem else 200,
    )


def _prove(
    request: Request,
    view: Overview,
    open_state: str,
    *,
    problem: str = "",
    wrong_line: str = "",
    status: int = 200,
) -> HttpResponse:
    context = {"view": view, "layer": "prove", "problem": problem, "wrong_line": wrong_line}
    against = view.against_signing
    context |= {"changes": shown.changes(view), "may_sign": not against, "against": wording.held_against(against)}
    context |= {"open": open_sentences(view.plan), "faults": fault_sentences(view.plan)}
    if view.proof is not None:
        context["older"] = shown.older(view, view.proof)
        context["later"] = later(view, timezone.localdate())
        context["seen"] = token_of(signed_facts(view.job, view.derived, view.proof))
        found = shown.groups(view, view.proof)
        chosen = next((group for group in found if group.id == open_state), None)
        # stay on the state that was asked for until it is done, then go on to the next one
        if chosen is None or (request.method == "POST" and chosen.is_done and not problem):
            chosen = next((group for group in found if not group.is_done), chosen or found[0])
        context |= {
            "groups": found,
            "group": chosen,
            "verdict": wording.VERDICTS[view.proof.verdict],
            "swapped": wording.swapped_sentence(view.proof.sheet, view.proof.outcomes, view.plan.accessory),
            "typed": request.POST.get("reading", "") if problem else "",
        }
    template = "prove/_prove.html" if request.htmx else "prove/prove.html"
    return render(request, template, {**context, "page": {**context, "is_part": bool(request.htmx)}}, status=status)
