"""Hook up: for each lead the ways to feed it, truth table, circuit, load, wire, fuse and joint."""

from __future__ import annotations

from dataclasses import dataclass

from django.contrib import messages
from django.http import Http404, HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_http_methods

from electrics.errors import StateError
from electrics.hookup.forms import FORMS
from electrics.hookup.joints import joint_methods
from electrics.hookup.states import NEVER, TABLE_STATES
from electrics.hookup.trial import Trial
from electrics.identify.belief import WireBelief
from electrics.vocabulary import State, parse_state
from hailstone.hookup import services
from hailstone.hookup.circuit_view import circuit_view
from hailstone.hookup.forms import HookUpForm, SchoolForm
from hailstone.hookup.models import the_school
from hailstone.hookup.services import WAY
from hailstone.hookup.sizes import size_rows
from hailstone.hookup.svg import load_bar
from hailstone.jobs.queries import job_overview
from hailstone.jobs.services import StaleError
from hailstone.layers.beliefs import beliefs
from hailstone.layers.hookup import SHOWN_WAYS, LeadPlan, Way, hookup_of, try_way
from hailstone.layers.progress import Overview
from hailstone.shop.switches import MORE, STRIP, switches
from hailstone.wording import hookup as wording
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.lamp import lead_name, summary
from hailstone.wording.words import signal_name, state_name

PARTS = [
    f"hookup/_{part}.html" for part in ("banner", "ways", "circuit", "load", "options", "joint", "table", "sizes")
]
"""What follows from the decisions; answered alone, so that the fields are never replaced while one types."""

SWITCHES = tuple(each for each in (*STRIP, *MORE) if any(each[0] in state.controls for state in TABLE_STATES))
"""The controls that the truth table speaks of."""

TRIED_WAYS = 2
"""Right ways of a lead that are tried on the circuit before one is chosen."""


@dataclass(frozen=True)
class ShownWay:
    """A way with its words."""

    way: Way
    name: str
    reason: str
    is_chosen: bool
    upsets: tuple[str, ...] = ()


@dataclass(frozen=True)
class ShownLead:
    """A lead with the ways that fit, and those that do not: one of each kind of mistake."""

    plan: LeadPlan
    field: str
    wish: str
    fitting: tuple[ShownWay, ...]
    losing: tuple[ShownWay, ...]


@require_http_methods(["GET", "POST"])
def hookup(request: HttpRequest, job_id: int) -> HttpResponse:
    """The whole page, or after a change of one field the part that follows from it."""
    view = job_overview(job_id)
    form, status, stale, problem = _form(view), 200, "", ""
    if request.method == "POST":
        bound = _form(view, request)
        bound.is_valid()
        facts = {name: value for name, value in bound.cleaned_data.items() if name in request.POST or value}
        facts |= {name: value for name, value in bound.cleaned_data.items() if not name.startswith(WAY)}
        by_hand, problem = _by_hand(view, request)
        facts |= by_hand
        try:
            services.decide(view.job, request.user, facts)
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
    context = {"view": view, "form": form, "layer": "hookup", "stale": stale or problem, **_shown(view, request)}
    template = "hookup/_answer.html" if request.htmx else "hookup/hookup.html"
    return render(request, template, context, status=status)


def schools(request: HttpRequest) -> HttpResponse:
    """The shop's ways, with what speaks for and against each."""
    school = the_school()
    initial = {name: getattr(school, name) for name in ("joint", "ground", "wire_standard")}
    form = SchoolForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        services.keep_school(form.cleaned_data)
        messages.success(request, "Kept. Jobs that begin from now on start with these ways.")
        return redirect("schools")
    context = {"form": form, "methods": list(joint_methods()), "school": school}
    return render(request, "hookup/schools.html", context, status=422 if form.is_bound else 200)


def _form(view: Overview, request: HttpRequest | None = None) -> HookUpForm:
    ways = {lead.lead.id: [way.key for way in lead.ways] for lead in view.plan.leads}
    return HookUpForm(request.POST if request else None, ways=ways, choice=hookup_of(view.job))


def _shown(view: Overview, request: HttpRequest) -> dict[str, object]:
    """What the template prints besides the plan itself."""
    plan = view.plan
    leads = [_lead(view, lead) for lead in plan.leads]
    asked = request.GET.get("lead", request.POST.get("lead", ""))
    pictured = next((lead for lead in plan.leads if lead.lead.id == asked), plan.leads[0])
    return {
        "parts": PARTS,
        "lamp_leads": [
            (lead, lead_name(lead, plan.lamp), plan.lead is not None and lead.lead == plan.lead.lead)
            for lead in (plan.lamp.leads if plan.lamp else ())
        ],
        "lamp_summary": summary(plan.lamp) if plan.lamp else "",
        "size": hookup_of(view.job).wire_size,
        "leads": leads,
        "forms": [(form.id, wording.FORMS[form.id].format("the first", "the second")) for form in FORMS],
        "sources": _source_choices(view),
        "never": [wording.never_reason(wire) for wire in _never(view)],
        "sizes": size_rows(plan, hookup_of(view.job), view.job.vehicle.system_v),
        "joint_advice": [wording.JOINT_ADVICE[rule] for rule in plan.joint.advice] if plan.joint else [],
        "school": the_school(),
        "overridden": plan.overridden,
        "caution": wording.CAUTIONS[plan.accessory.caution],
        "n_states": len(TABLE_STATES),
        "options": [(option, wording.option_reason(option)) for option in plan.options],
        "missing": [wording.MISSING[name] for name in plan.missing],
        "faults": [wording.FAULTS[name] for name in plan.faults],
        "load": load_bar(plan.host) if plan.host else None,
        **_picture(view, pictured, _asked_state(request, pictured)),
    }


def _picture(view: Overview, lead: LeadPlan, state: State) -> dict[str, object]:
    """Truth table and circuit of the way that is chosen, or would be."""
    way = lead.shown
    if way is None:
        return {"pictured": lead, "table": [], "circuit": None}
    trial = try_way(view.job, view.plan, lead, way)
    table = [
        (
            str(each),
            state_name(each),
            signal_name(lead.lead.wanted.signal(each, view.plan.scenario)),
            signal_name(trial.shows[each] if trial else way.candidate.signal(each)),
            each not in (trial.wrong if trial else way.candidate.wrong),
            each == state,
            _rate(trial, each),
        )
        for each in TABLE_STATES
    ]
    return {
        "pictured": lead,
        "pictured_name": wording.way_name(way.candidate, [place.wire for place in way.wires]),
        "table": table,
        "at": state_name(state),
        "strip": switches(state, SWITCHES, all_off=True, within=TABLE_STATES),
        "is_solved": trial is not None,
        "circuit": circuit_view(trial, lead, way, state) if trial else None,
        "upsets": [finding_sentence(finding) for finding in trial.upsets] if trial else [],
    }


def _rate(trial: Trial | None, state: State) -> str:
    """How fast the lamps flash in a state; empty where nothing does."""
    rhythms = trial.simulation.flash(state).values() if trial else ()
    return next((f"{rhythm.per_minute:.0f}/min, {rhythm.word}" for rhythm in rhythms), "")


def _asked_state(request: HttpRequest, lead: LeadPlan) -> State:
    """The state the circuit is drawn in: the one asked for, else the first in which the lamp is to be lit."""
    asked = request.GET.get("at", request.POST.get("at", ""))
    if asked:
        try:
            state = parse_state(asked.replace(" ", "+"))
        except StateError as error:
            raise Http404(str(error)) from error
        if state in TABLE_STATES:
            return state
    way = lead.shown
    if way is None:
        return TABLE_STATES[0]
    return next((state for state in TABLE_STATES if way.candidate.signal(state).lit != "off"), TABLE_STATES[0])


def _lead(view: Overview, lead: LeadPlan) -> ShownLead:
    def upsets(way: Way) -> tuple[str, ...]:
        """What a right way upsets on the solved circuit; the first few are tried."""
        if way not in lead.right[:TRIED_WAYS]:
            return ()
        trial = try_way(view.job, view.plan, lead, way)
        return tuple(finding_sentence(finding) for finding in trial.upsets) if trial else ()

    def shown(way: Way) -> ShownWay:
        wires = [place.wire for place in way.wires]
        return ShownWay(
            way,
            wording.way_name(way.candidate, wires),
            wording.way_reason(way.candidate, wires, lead.lead, view.plan.accessory, view.plan.scenario),
            lead.chosen is not None and way.key == lead.chosen.key,
            upsets(way),
        )

    right = sorted(lead.right[:SHOWN_WAYS], key=lambda way: len(upsets(way)))
    if lead.chosen is not None and lead.chosen.is_right and lead.chosen not in right:
        right.append(lead.chosen)
    wrong = [way for way in lead.ways if not way.is_right]
    losing = [way for way in wrong if len(way.wires) == 1 and way.candidate.form.parts == 0]
    losing += [way for way in wrong if way not in losing][:SHOWN_WAYS]
    if lead.chosen is not None and not lead.chosen.is_right and lead.chosen not in losing:
        losing.insert(0, lead.chosen)
    return ShownLead(
        lead, WAY + lead.lead.id, wording.lead_wish(lead.lead), tuple(map(shown, right)), tuple(map(shown, losing))
    )


def _source_choices(view: Overview) -> list[tuple[int, str]]:
    """Every wire of the job, for connecting by hand."""
    believed = beliefs(view.job)
    several = len(view.job.points.all()) > 1
    return [
        (pin.id, wording.source_name(believed[point.id].wire(pin.label)) + (f", {point.name}" if several else ""))
        for point in view.job.points.all()
        for pin in point.pins.all()
    ]


def _by_hand(view: Overview, request: HttpRequest) -> tuple[dict[str, str], str]:
    """The way that was connected by hand, as a decision, or why it is none."""
    lead_id = request.POST.get("hand", "")
    lead = next((lead for lead in view.plan.leads if lead.lead.id == lead_id), None)
    if lead is None:
        return {}, ""
    picked = [request.POST.get(f"hand_{place}_{lead_id}", "") for place in ("a", "b")]
    form = request.POST.get(f"hand_form_{lead_id}", "")
    wires = len(next((each.takes for each in FORMS if each.id == form), ()))
    keys = {f"{form}:{','.join(order)}" for order in (picked[:wires], picked[:wires][::-1])}
    fitting = next((way for way in lead.ways if way.key == f"{form}:{','.join(picked[:wires])}"), None)
    fitting = fitting or next((way for way in lead.ways if way.candidate.form.is_symmetric and way.key in keys), None)
    if fitting is None:
        return {}, (
            "These cannot be connected so: a data line, spare or ground is no source, two wires must differ and "
            "both be settled, and what one does alone needs no second. The ways above are the nearest that work."
        )
    return {WAY + lead_id: fitting.key}, ""


def _never(view: Overview) -> list[WireBelief]:
    return [wire for belief in beliefs(view.job).values() for wire in belief.wires if wire.function in NEVER]
