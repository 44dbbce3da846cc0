"""Hook up: for each lead the ways to feed it, truth table, circuit, load, wire, fuse and joint."""

from __future__ import annotations

from collections.abc import Sequence
from itertools import chain
from typing import Any

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_http_methods, require_POST

from electrics.design.forms import FORMS
from electrics.design.inputs import INPUTS
from electrics.design.joints import ground_methods, joint_methods
from electrics.document.circuits import FedBy
from electrics.document.way import UNUSED, WayKey
from electrics.errors import FactError, StateError
from electrics.identify.belief import WireBelief
from electrics.job.better import best_ways, better_ways
from electrics.job.hookup_plan import HookUpPlan, LeadPlan
from electrics.job.judging import better_findings
from electrics.job.own_side import own_side_wires
from electrics.judge.finding import Finding
from electrics.reference.functions import Tap, kind_of
from electrics.signals import Level
from electrics.vocabulary import Function, State, parse_state
from electrics.ways.corrections import correction_methods
from hailstone.hookup import by_hand, redrawn, services, shown
from hailstone.hookup.forms import IN, SUFFIXES, HookUpForm, SchoolForm
from hailstone.hookup.matrix import matrix_of
from hailstone.hookup.models import RUN_FIELDS, the_school
from hailstone.hookup.services import WAY
from hailstone.hookup.sizes import size_rows
from hailstone.layers.beliefs import beliefs
from hailstone.layers.decisions import named_distances
from hailstone.layers.distances import state_distance
from hailstone.layers.job_facts import hookup_of
from hailstone.layers.overviews import job_overview
from hailstone.layers.plans import assumptions_of
from hailstone.layers.progress import Overview
from hailstone.layers.versions import StaleError
from hailstone.shop.fields import at_version
from hailstone.shop.request import Request
from hailstone.wording import hookup as wording
from hailstone.wording.build import lost_sentence
from hailstone.wording.circuit import finding_sentence
from hailstone.wording.findings import fault_sentences, finding_text
from hailstone.wording.lamp import lead_name, summary

PARTS = [
    f"hookup/_{part}.html"
    for part in ("banner", "leads", "circuit", "matrix", "ways", "load", "options", "joint", "sizes", "runs")
]
"""What follows from the decisions; answered alone, so that the fields are never replaced while one types."""
WHO_FEEDS = ((str(FedBy.PLAIN), "Plain switches feed it"), (str(FedBy.COMPUTER), "A computer feeds it"))
LOOK = [f"hookup/_{part}.html" for part in ("leads", "circuit", "matrix")]
"""What another state of the strip changes."""
DRAWERS = (
    ("ways", "Other hook-ups"),
    ("hand", "Wire it by hand"),
    ("run", "Runs, connections, ground"),
    ("sizes", "Sizes and why"),
    ("loads", "Load on each fuse"),
    ("lamp", "The new lamp"),
)


@require_http_methods(["GET", "POST"])
def hookup(request: Request, job_id: int) -> HttpResponse:
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
            decided |= {WAY + id: key for id, key in best_ways(view.derived).items()}
        if "better" in request.POST:
            better = (each.ways.items() for each in better_ways(view.derived))
            decided |= {WAY + id: way.key for id, way in chain.from_iterable(better)}
        first, mates = view.plan.leads[0].lead.id, _mates(view, lead, request)
        decided = _of_both_sides(view, lead, mates, _facts(bound, request) | decided)
        try:
            services.decide(
                view.job,
                request.user,
                decided,
                lead="" if lead.lead.id == first else lead.lead.id,
                mates=["" if mate.lead.id == first else mate.lead.id for mate in mates],
                circuits=bound.noted() | _said_of_all(view, request),
            )
        except StaleError as error:
            stale, status = str(error), 409
            at_version(bound, error.version)
            form = bound
        else:
            view = job_overview(job_id)
            lead = view.plan.lead(lead.lead.id)
            form = _form(view, lead)
            if bound.errors:
                form, status = _form(view, lead, asked, request), 422
                at_version(form, hookup_of(view.job).version)
    else:
        form = _form(view, lead)
    context = {
        "view": view,
        "form": form,
        "layer": "hookup",
        "stale": stale or problem,
        **_shown(view, lead, request),
    }
    is_other = form.functions != asked or "fed" in request.POST
    parts = PARTS + (["hookup/_circuits.html"] if is_other else [])
    context["parts"] = parts
    if not request.htmx:
        return render(request, "hookup/hookup.html", {**context, "page": context}, status=status)
    if request.method == "GET" and request.GET.get("only") != "look":
        return render(request, "hookup/_hookup.html", {"page": context, "view": view})
    if request.method == "GET":
        parts = LOOK
        context |= {"parts": parts, "is_look": True}
    has = redrawn.read(request.POST.get("drawn", "")) if status == 200 else {}
    context["drawn_parts"], context["drawn"] = redrawn.differing(request, parts, context, has)
    return render(request, "hookup/_answer.html", context, status=status)


@require_GET
def assumed(request: Request, job_id: int) -> HttpResponse:
    """The assumption that would change the plan soonest; asked for once the page stands."""
    view = job_overview(job_id)
    found = assumptions_of(job_id, view.derived) if view.plan.is_begun else ()
    telling = [each for each in found if each.changes_at is not None]
    context: dict[str, Any] = {"view": view, "count": len(found), "rest": len(telling) - 1}
    if telling:
        lead = next((lead for lead in view.plan.leads if telling[0].where in _tapped_circuits(lead)), None)
        context |= {"first": wording.assumption_sentence(telling[0]), "lead": lead and lead.lead.id}
    return render(request, "hookup/_assumed.html", context)


@require_POST
def distance(request: Request, job_id: int) -> HttpResponse:
    """State how far two places are apart, or take it back; it holds for every wire that goes that way."""
    view = job_overview(job_id)
    first, second, text = (request.POST.get(name, "").strip() for name in ("first", "second", "m"))
    names = {spot.name for spot in view.plan.design.spots()} if view.plan.design else set()
    stated = {frozenset(each[:2]) for each in named_distances(view.job)}
    try:
        if not {first, second} <= names and frozenset((first, second)) not in stated:
            raise FactError("distances", "Those locations aren't in this job's plan. Reload the page.")
        state_distance(view.job, request.user, first, second, _metres(text) if text else None)
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


def schools(request: Request) -> HttpResponse:
    """Shop defaults, with what speaks for and against each."""
    school = the_school()
    initial = {name: getattr(school, name) for name in ("joint", "ground", "wire_standard", "correction")}
    initial["stock_ohm"] = ", ".join(f"{ohm:g}" for ohm in school.stock_ohm)
    form = SchoolForm(request.POST or None, initial=initial)
    if request.method == "POST" and form.is_valid():
        services.keep_school(form.cleaned_data)
        messages.success(request, "Saved. New jobs start with these.")
        return redirect("schools")
    context = {
        "form": form,
        "methods": list(joint_methods()),
        "grounds": list(ground_methods()),
        "corrections": list(correction_methods()),
        "school": school,
    }
    return render(request, "hookup/schools.html", context, status=422 if form.is_bound else 200)


def _facts(bound: HookUpForm, request: Request) -> dict[str, Any]:
    """What was decided: valid fields; a way only where one was sent, overrides only all together."""
    wanted = ("version", "override", "keeps", *RUN_FIELDS)
    facts = {name: bound.cleaned_data[name] for name in wanted if name in bound.cleaned_data}
    ways = {name: key for name, key in bound.cleaned_data.items() if name.startswith(WAY)}
    return facts | {name: key for name, key in ways.items() if name in request.POST or key}


def _mates(view: Overview, lead: LeadPlan, request: Request) -> list[LeadPlan]:
    """The same lead of the other side, unless only this side is meant."""
    if "only_side" in request.POST:
        return []
    return [view.plan.lead(each.id) for each in lead.lead.mates(each.lead for each in view.plan.leads)]


def _of_both_sides(
    view: Overview, lead: LeadPlan, mates: Sequence[LeadPlan], facts: dict[str, Any]
) -> dict[str, Any]:
    """A choice for one lead as one for the pair: the same form on the other side, where the two were alike."""
    key = facts.get(WAY + lead.lead.id)
    if not key:
        return facts
    before, form = lead.chosen, WayKey.read(key).form
    for mate in mates:
        is_alike = mate.chosen is None or before is None or mate.chosen.candidate.form is before.candidate.form
        if WAY + mate.lead.id in facts or not is_alike:
            continue
        same = next((way.key for way in mate.right if way.candidate.form.id == form), "")
        if key == UNUSED or same:
            facts = {**facts, WAY + mate.lead.id: UNUSED if key == UNUSED else same}
    return facts


def _said_of_all(view: Overview, request: Request) -> dict[str, dict[str, str]]:
    """What feeds every circuit that has no answer yet, where one press answers for all."""
    value = request.POST.get("fed", "")
    if value not in (FedBy.PLAIN, FedBy.COMPUTER):
        return {}
    return {
        str(item.function): {"fed_by": value} for item in view.plan.missing if item.rule == "fed_by" and item.function
    }


def _lead_of(item: Finding, view: Overview) -> str:
    """The lead on whose page something open is decided."""
    tapping = (
        lead.lead.id for lead in view.plan.leads if lead.shown is not None and item.function in lead.shown.loaded
    )
    return item.lead or next(tapping, "")


def _asked_lead(view: Overview, request: Request) -> LeadPlan:
    return view.plan.lead(request.GET.get("lead", request.POST.get("lead", "")))


def _tapped_circuits(lead: LeadPlan) -> tuple[str, ...]:
    """The circuits of the way that is shown, the one that carries the lamp first."""
    way = lead.shown
    tapped = way.loaded if way else []
    carrying = way.host.wire.function if way else None
    return tuple(str(function) for function in sorted(tapped, key=lambda each: each is not carrying))


def _posted_circuits(request: Request) -> tuple[str, ...]:
    """The circuits that the fields of the form were asked for."""
    posted = tuple(dict.fromkeys(request.POST.getlist("circuit")))[: len(SUFFIXES)]
    return posted if all(function in set(Function) for function in posted) else ()


def _form(
    view: Overview, lead: LeadPlan, circuits: tuple[str, ...] | None = None, request: Request | None = None
) -> HookUpForm:
    return HookUpForm(
        request.POST if request else None,
        plan=view.plan,
        lead=lead,
        circuits=_tapped_circuits(lead) if circuits is None else circuits,
        choice=hookup_of(view.job),
    )


def _shown(view: Overview, lead: LeadPlan, request: Request) -> dict[str, object]:
    """What the templates print besides the plan itself."""
    plan, school = view.plan, the_school()
    better = better_findings(view.derived)
    leads = shown.shown_leads(plan)
    pictured = next(each for each in leads if each.plan.lead.id == lead.lead.id)
    host_wire = hookup_of(view.job).circuit_of(lead.shown.host.wire.function if lead.shown else "")["host_wire"]
    sized = lead.sized
    first_open = _lead_of(plan.missing[0], view) if plan.missing else ""
    seen = _pictured(view, leads)
    state = _asked_state(request, seen, seen.lead(lead.lead.id))
    is_unfolded = request.GET.get("states") == "all"
    table = matrix_of(seen, state, is_unfolded=is_unfolded)
    drawer = request.GET.get("drawer", "")
    solved = seen.pictured
    return {
        "pictured": lead,
        "pictured_lead": pictured,
        "drawers": DRAWERS,
        "drawer": drawer if drawer in dict(DRAWERS) else DRAWERS[0][0],
        "matrix": table,
        "unused": [(WAY + lead.id, lead.title) for lead in plan.unused],
        "unused_key": UNUSED,
        "is_unfolded": is_unfolded,
        "units": shown.shown_units(seen, plan, table, lead.lead.id),
        "hangs_on_variant": solved is not None
        and any(each[state] != plan.scenarios[0] for each in solved.seen_on for state in each),
        "cure": shown.cure_sentence(solved.upsets, school) if solved else "",
        "lamp_leads": [
            (
                each,
                lead_name(each, belief),
                any(own.measured and own.measured.lead == each.lead for own in plan.leads),
            )
            for belief in ([plan.lamp] if plan.lamp else [])
            for each in belief.leads
        ],
        "lamp_summary": summary(plan.lamp) if plan.lamp else "",
        "size": lead.run.wire_size,
        "leads": leads,
        "forms": [(form.id, wording.FORMS[form.id].format("the first", "the second")) for form in FORMS],
        "hand_sources": by_hand.hand_sources(view),
        "hand_leads": by_hand.hand_leads(plan),
        "never": [wording.never_reason(wire) for wire in _never(view)],
        "sizes": size_rows(lead, host_wire, plan.fuses_a(lead.lead.id), plan.feed_wires(lead.lead.id)),
        "inputs": [(IN + each.id, each, sized.assumed.usual.get(each.id)) for each in INPUTS],
        "joint_notes": shown.joint_notes(lead, school),
        "circuits": shown.shown_circuits(plan),
        "school": school,
        "overridden": plan.overridden,
        "lost": lost_sentence(plan.design.capped) if plan.design else "",
        "caution": shown.caution(plan),
        "nearer": [wording.nearer_sentence(each) for each in own_side_wires(view.derived)],
        "options": [(option, wording.option_reason(option)) for option in sized.options],
        "can_take_best": any(each.plan.chosen is None and each.fitting for each in leads),
        "who_feeds": WHO_FEEDS,
        "asks_who_feeds": bool(plan.missing) and plan.missing[0].rule == "fed_by",
        "measures_on": bool(plan.missing) and plan.missing[0].rule == "tap" and not plan.lead(first_open).right,
        "planned": wording.planned_sentence(plan) if plan.is_complete else "",
        "added": wording.added_sentence(plan) if plan.is_complete else "",
        "missing": [finding_text(item, plan) for item in plan.missing],
        "odd": [*table.differing, *(finding_sentence(finding) for finding in (solved.upsets if solved else ()))],
        "first_open": first_open,
        "first_open_title": plan.lead(first_open).lead.title if first_open else "",
        "faults": fault_sentences(plan),
        "doubts": [finding_text(item, plan) for item in (*plan.doubts, *better)],
        "is_better": bool(better),
        "has_mate": any(True for _ in lead.lead.mates(each.lead for each in plan.leads)),
        "is_parted": any(item.rule == "sides_differ" for item in plan.doubts),
        **shown.picture(seen, pictured, state, lit=request.GET.get("half") != "dark"),
    }


def _pictured(view: Overview, leads: Sequence[shown.ShownLead]) -> HookUpPlan:
    """The plan that is drawn: with the best way on the circuit where none is chosen."""
    best = shown.best_ways(leads)
    drawn = {lead.lead.id: lead.shown.key for lead in view.plan.leads if lead.shown}
    is_drawn = all(drawn.get(id, key) == key for id, key in best.items())
    return view.plan if is_drawn else view.derived.taking(best).hookup


def _asked_state(request: Request, plan: HookUpPlan, lead: LeadPlan) -> State:
    """The state the circuit is drawn in: the one asked for, else the first in which the lamp is to be lit."""
    states = plan.pictured_states
    asked = request.GET.get("at", request.POST.get("at", ""))
    if asked:
        try:
            state = parse_state(asked.replace(" ", "+"))
        except StateError as error:
            raise Http404(str(error)) from error
        if state in states:
            return state
    wish, usual = lead.lead.wanted, plan.scenarios[0]
    return next((state for state in states if wish.signal(state, usual).lit is not Level.OFF), states[0])


def _never(view: Overview) -> list[WireBelief]:
    wires = (wire for belief in beliefs(view.job).values() for wire in belief.wires)
    return [wire for wire in wires if kind_of(wire.function).tap is Tap.NEVER]
