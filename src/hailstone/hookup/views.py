"""Hook up: the tap, its truth table, load, wire, fuse and joint."""

from __future__ import annotations

from django.http import HttpRequest, HttpResponse
from django.shortcuts import render
from django.views.decorators.http import require_http_methods

from electrics.hookup.taps import TABLE_STATES
from hailstone.hookup import services
from hailstone.hookup.forms import HookUpForm
from hailstone.hookup.svg import load_bar
from hailstone.jobs.queries import job_overview
from hailstone.jobs.services import StaleError
from hailstone.layers.hookup import hookup_of
from hailstone.layers.progress import Overview
from hailstone.wording import hookup as wording
from hailstone.wording.lamp import lead_name, summary
from hailstone.wording.words import signal_name, state_name

PARTS = [f"hookup/_{part}.html" for part in ("banner", "taps", "load", "options", "joint", "table")]
"""What follows from the decisions; answered alone, so that the fields are never replaced while one types."""


@require_http_methods(["GET", "POST"])
def hookup(request: HttpRequest, job_id: int) -> HttpResponse:
    """The whole page, or after a change of one field the part that follows from it."""
    view = job_overview(job_id)
    form, status, stale = _form(view), 200, ""
    if request.method == "POST":
        bound = _form(view, request)
        bound.is_valid()
        try:
            services.decide(view.job, request.user, bound.cleaned_data)
        except StaleError as error:
            stale, status = str(error), 409
            bound.data = bound.data.copy()
            bound.data["version"] = error.version
            form = bound
        else:
            view = job_overview(job_id)
            form = _form(view)
            if bound.errors:
                form, status = _form(view, request), 422
                form.data = form.data.copy()
                form.data["version"] = hookup_of(view.job).version
    context = {"view": view, "form": form, "layer": "hookup", "stale": stale, **_shown(view)}
    template = "hookup/_answer.html" if request.htmx else "hookup/hookup.html"
    return render(request, template, context, status=status)


def _form(view: Overview, request: HttpRequest | None = None) -> HookUpForm:
    pins = {place.pin_id: place.tap.wire.pin for place in view.plan.taps}
    return HookUpForm(request.POST if request else None, pins=pins, choice=hookup_of(view.job))


def _shown(view: Overview) -> dict[str, object]:
    """What the template prints besides the plan itself."""
    plan = view.plan
    shown = plan.chosen or (plan.taps[0] if plan.taps and plan.taps[0].tap.is_right else None)
    table: list[tuple[str, str, str, bool]] = []
    if shown:
        table = [
            (state_name(row.state), signal_name(row.wanted), signal_name(row.got), row.state not in shown.tap.wrong)
            for row in shown.tap.rows
        ]
    taps = [(place, wording.tap_reason(place.tap, plan.addition)) for place in plan.taps]
    return {
        "parts": PARTS,
        "lamp_leads": [
            (lead, lead_name(lead, plan.lamp), plan.lead is not None and lead.lead == plan.lead.lead)
            for lead in (plan.lamp.leads if plan.lamp else ())
        ],
        "lamp_summary": summary(plan.lamp) if plan.lamp else "",
        "size": hookup_of(view.job).wire_size,
        "taps": taps,
        "fitting": [item for item in taps if item[0].tap.is_right],
        "losing": [item for item in taps if not item[0].tap.is_right],
        "lost_chosen": plan.chosen is not None and not plan.chosen.tap.is_right,
        "shown": shown,
        "table": table,
        "n_states": len(TABLE_STATES),
        "options": [(option, wording.option_reason(option)) for option in plan.options],
        "missing": [wording.MISSING[name] for name in plan.missing],
        "faults": [wording.FAULTS[name] for name in plan.faults],
        "load": load_bar(plan.host) if plan.host else None,
    }
