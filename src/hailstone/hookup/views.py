"""Hook up: for each lead the ways to feed it, truth table, circuit, load, wire, fuse and joint."""

from __future__ import annotations

from typing import Any

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods, require_POST

from electrics.errors import FactError, StateError
from electrics.hookup.corrections import correction_methods
from electrics.hookup.forms import FORMS
from electrics.hookup.inputs import INPUTS
from electrics.hookup.joints import ground_methods, joint_methods
from electrics.identify.belief import WireBelief
from electrics.job.hookup_plan import LeadPlan, Open
from electrics.reference.functions import Tap, kind_of
from electrics.signals import Level
from electrics.vocabulary import Function, State, parse_state
from hailstone.hookup import by_hand, services, shown
from hailstone.hookup.forms import IN, SUFFIXES, HookUpForm, SchoolForm
from hailstone.hookup.models import RUN_FIELDS, the_school
from hailstone.hookup.services import WAY
from hailstone.hookup.sizes import size_rows
from hailstone.layers.beliefs import beliefs
from hailstone.layers.job_facts import hookup_of
from hailstone.layers.overviews import job_overview
from hailstone.layers.progress import Overview
from hailstone.layers.refs import named_distances
from hailstone.layers.versions import StaleError
from hailstone.wording import hookup as wording
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.lamp import lead_name, summary

PARTS = [
    f"hookup/_{part}.html"
    for part in ("banner", "ways", "circuit", "load", "options", "joint", "table", "sizes", "runs")
]
"""What follows from the decisions; answered alone, so that the fields are never replaced while one types."""


@require_http_methods(["GET", "POST"])
def hookup(request: HttpRequest, job_id: int) -> HttpResponse:
    """The whole page, or after a change of one field the part that follows from it."""
    view = job_overview(job_id)
    lead = _asked_lead(view, request)
    status, stale, problem = 200, "", ""
    asked = _tapped_circuits(lead)
    if request.method == "POST":
        asked = _posted_circuits(request) or asked
        bound = _form(view, lead, asked, request)
        bound.is_valid()
        decided, problem = by_hand.connected(view, request)
        if "best" in request.POST:
            decided |= _best_ways(view)
        try:
            services.decide(
                view.job,
                request.user,
                _facts(bound, request) | decided,
                lead="" if lead is view.plan.leads[0] else lead.lead.id,
                circuits=bound.noted(),
            )
        except StaleError as error:
            stale, status = str(error), 409
            bound.data = bound.data.copy()
            bound.data["version"] = error.version
            form = bound
        else:
            view = job_overview(job_id)
            lead = view.plan.lead(lead.lead.id)
            form = _form(view, lead)
            if bound.errors:
                form, status = _form(view, lead, asked, request), 422
                form.data = form.data.copy()
                form.data["version"] = hookup_of(view.job).version
    else:
        form = _form(view, lead)
    context = {
        "view": view,
        "form": form,
        "layer": "hookup",
        "stale": stale or problem,
        **_shown(view, lead, request),
    }
    context["parts"] = PARTS + (["hookup/_circuits.html"] if form.functions != asked else [])
    template = "hookup/_answer.html" if request.htmx else "hookup/hookup.html"
    return render(request, template, context, status=status)


@require_POST
def distance(request: HttpRequest, job_id: int) -> HttpResponse:
    """State how far two places are apart, or take it back; it holds for every wire that goes that way."""
    view = job_overview(job_id)
    first, second, text = (request.POST.get(name, "").strip() for name in ("first", "second", "m"))
    names = {spot.name for spot in view.plan.design.spots()} if view.plan.design else set()
    stated = {frozenset(each[:2]) for each in named_distances(view.job, hookup_of(view.job).distances)}
    try:
        if not {first, second} <= names and frozenset((first, second)) not in stated:
            raise FactError("distances", "These are no places of this job's design.")
        services.state_distance(view.job, request.user, first, second, _metres(text) if text else None)
    except FactError as error:
        messages.error(request, str(error))
    else:
        messages.success(
            request, f"{first} to {second}: {text} m." if text else f"{first} to {second}: assumed again."
        )
    return redirect("build", job_id=job_id)


def _metres(text: str) -> float:
    try:
        return float(text.removesuffix("m").strip().replace(",", "."))
    except ValueError:
        raise FactError("distances", f"“{text}” is no length. Expected metres, like 1.8.") from None


def schools(request: HttpRequest) -> HttpResponse:
    """The shop's ways, with what speaks for and against each."""
    school = the_school()
    initial = {name: getattr(school, name) for name in ("joint", "ground", "wire_standard", "correction")}
    initial["stock_ohm"] = ", ".join(f"{ohm:g}" for ohm in school.stock_ohm)
    form = SchoolForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        services.keep_school(form.cleaned_data)
        messages.success(request, "Kept. Jobs that begin from now on start with these ways.")
        return redirect("schools")
    context = {
        "form": form,
        "methods": list(joint_methods()),
        "grounds": list(ground_methods()),
        "corrections": list(correction_methods()),
        "school": school,
    }
    return render(request, "hookup/schools.html", context, status=422 if form.is_bound else 200)


def _facts(bound: HookUpForm, request: HttpRequest) -> dict[str, Any]:
    """What was decided: valid fields; a way only where one was sent, overrides only all together."""
    wanted = ("version", "override", "keeps", *RUN_FIELDS)
    facts = {name: bound.cleaned_data[name] for name in wanted if name in bound.cleaned_data}
    ways = {name: key for name, key in bound.cleaned_data.items() if name.startswith(WAY)}
    return facts | {name: key for name, key in ways.items() if name in request.POST or key}


def _best_ways(view: Overview) -> dict[str, str]:
    """The best way on the circuit for every lead that has none yet."""
    return {
        lead.field: lead.fitting[0].way.key
        for lead in shown.shown_leads(view.plan)
        if lead.plan.chosen is None and lead.fitting
    }


def _lead_of(item: Open, view: Overview) -> str:
    """The lead on whose page something open is decided."""
    tapping = (
        lead.lead.id for lead in view.plan.leads if lead.shown is not None and item.function in lead.shown.loaded
    )
    return item.lead or next(tapping, "")


def _asked_lead(view: Overview, request: HttpRequest) -> LeadPlan:
    return view.plan.lead(request.GET.get("lead", request.POST.get("lead", "")))


def _tapped_circuits(lead: LeadPlan) -> tuple[str, ...]:
    """The circuits of the way that is shown, the one that carries the lamp first."""
    way = lead.shown
    tapped = way.loaded if way else []
    carrying = way.host.wire.function if way else None
    return tuple(str(function) for function in sorted(tapped, key=lambda each: each is not carrying))


def _posted_circuits(request: HttpRequest) -> tuple[str, ...]:
    """The circuits that the fields of the form were asked for."""
    posted = tuple(dict.fromkeys(request.POST.getlist("circuit")))[: len(SUFFIXES)]
    return posted if all(function in set(Function) for function in posted) else ()


def _form(
    view: Overview, lead: LeadPlan, circuits: tuple[str, ...] | None = None, request: HttpRequest | None = None
) -> HookUpForm:
    return HookUpForm(
        request.POST if request else None,
        plan=view.plan,
        lead=lead,
        circuits=_tapped_circuits(lead) if circuits is None else circuits,
        choice=hookup_of(view.job),
    )


def _shown(view: Overview, lead: LeadPlan, request: HttpRequest) -> dict[str, object]:
    """What the templates print besides the plan itself."""
    plan, school = view.plan, the_school()
    leads = shown.shown_leads(plan)
    pictured = next(each for each in leads if each.plan.lead.id == lead.lead.id)
    host_wire = hookup_of(view.job).circuit_of(lead.shown.host.wire.function if lead.shown else "")["host_wire"]
    sized = lead.sized
    first_open = _lead_of(plan.missing[0], view) if plan.missing else ""
    return {
        "pictured": lead,
        "lamp_leads": [
            (
                each,
                lead_name(each, plan.lamp),
                any(own.measured and own.measured.lead == each.lead for own in plan.leads),
            )
            for each in (plan.lamp.leads if plan.lamp else ())
        ],
        "lamp_summary": summary(plan.lamp) if plan.lamp else "",
        "size": lead.run.wire_size,
        "leads": leads,
        "forms": [(form.id, wording.FORMS[form.id].format("the first", "the second")) for form in FORMS],
        "hand_sources": by_hand.hand_sources(view),
        "hand_leads": by_hand.hand_leads(plan),
        "never": [wording.never_reason(wire) for wire in _never(view)],
        "sizes": size_rows(lead, host_wire, plan.fuses_a(lead.lead.id)),
        "inputs": [(IN + each.id, each, sized.assumed.usual.get(each.id)) for each in INPUTS],
        "joint_notes": shown.joint_notes(lead, school),
        "circuits": shown.shown_circuits(plan),
        "school": school,
        "overridden": plan.overridden,
        "caution": shown.caution(plan),
        "options": [(option, wording.option_reason(option)) for option in sized.options],
        "can_take_best": sum(each.plan.chosen is None and bool(each.fitting) for each in leads) > 1,
        "missing": [wording.open_sentence(item, plan) for item in plan.missing],
        "together": [finding_sentence(finding) for finding in plan.together.upsets] if plan.together else None,
        "first_open": first_open,
        "first_open_title": plan.lead(first_open).lead.title if first_open else "",
        "faults": [wording.open_sentence(item, plan) for item in plan.faults],
        **shown.picture(
            plan,
            pictured,
            _asked_state(view, request, pictured),
            school,
            lit=request.GET.get("half") != "dark",
        ),
    }


def _asked_state(view: Overview, request: HttpRequest, lead: shown.ShownLead) -> State:
    """The state the circuit is drawn in: the one asked for, else the first in which the lamp is to be lit."""
    way = shown.best_way(lead)
    states = way.candidate.trial_states if way else view.plan.states
    asked = request.GET.get("at", request.POST.get("at", ""))
    if asked:
        try:
            state = parse_state(asked.replace(" ", "+"))
        except StateError as error:
            raise Http404(str(error)) from error
        if state in states:
            return state
    if way is None:
        return states[0]
    wish, usual = lead.plan.lead.wanted, view.plan.scenarios[0]
    return next((state for state in states if wish.signal(state, usual).lit is not Level.OFF), states[0])


def _never(view: Overview) -> list[WireBelief]:
    wires = (wire for belief in beliefs(view.job).values() for wire in belief.wires)
    return [wire for wire in wires if kind_of(wire.function).tap is Tap.NEVER]
