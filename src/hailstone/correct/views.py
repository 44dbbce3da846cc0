"""Correct: what the change upsets, on the lamp board and in words, and the cures, each tried on the circuit."""

from __future__ import annotations

from collections.abc import Mapping, Sequence
from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpResponse
from django.shortcuts import redirect, render
from django.urls import reverse
from django.views.decorators.http import require_GET, require_POST

from electrics.correct.complaints import shown_by
from electrics.correct.effects import Effect, causes_of
from electrics.correct.flasher import believe_flasher, flasher_questions
from electrics.errors import InputError
from electrics.job.correction import Correction, Tried, with_cure
from electrics.job.cures.base import Proposal, WatchedSide
from electrics.job.plan import Plan, plan
from electrics.job.sets import FixSet
from electrics.reference.usual import system_scale
from electrics.vocabulary import State, parse_state
from electrics.ways.trial import Together
from hailstone.correct import services
from hailstone.correct.board import Board, board_of
from hailstone.correct.forms import HabitsForm
from hailstone.correct.heat import heat_plot
from hailstone.correct.road import roads_of
from hailstone.hookup.models import the_school
from hailstone.layers.corrections import all_of, as_it_was, correction_of, first_of, tried_of
from hailstone.layers.job_facts import flasher_of, hookup_of
from hailstone.layers.overviews import job_overview
from hailstone.layers.progress import Overview
from hailstone.layers.versions import StaleError
from hailstone.shop.request import Request
from hailstone.shop.switches import STRIP, switches
from hailstone.wording import correct as wording
from hailstone.wording.complaints import complaint_sentence
from hailstone.wording.cures import CURE_NAMES
from hailstone.wording.findings import fault_sentences, finding_text, open_sentences
from hailstone.wording.words import state_name


@require_GET
def correct(request: Request, job_id: int) -> HttpResponse:
    """The whole page; fixes follow by a second request."""
    return _page(request, job_overview(job_id))


@require_GET
def cures(request: Request, job_id: int) -> HttpResponse:
    """The first fix that works by itself; a second request brings all the others, each tried on the circuit."""
    view = job_overview(job_id)
    found = _correction(view)
    context: dict[str, Any] = {"view": view, "rows": [], "version": hookup_of(view.job).version}
    first = first_of(view.derived, found) if found is not None else None
    if first is not None:
        context["first"] = _set_row(FIRST, first)
    if request.GET.get("part") != REST:
        return render(request, "correct/_cures.html", context)
    if found is not None:
        tried = tried_of(view.derived, found)
        said = first[0] if first else ()
        rows = [
            _row(str(n), proposal, tried, found.taken) for n, proposal in enumerate(found.open) if (proposal,) != said
        ]
        ranked = sorted((row for row in rows if row["is_first"]), key=lambda row: RANK.index(row["verdict"]))
        several = all_of(view.derived, found)
        context |= {
            "is_upset": bool(found.before),
            "rows": [row for row in ranked if row["verdict"] not in USELESS or row["is_taken"]],
            "useless": [row for row in ranked if row["verdict"] in USELESS and not row["is_taken"]],
            "mounts": [row for row in rows if not row["is_first"]],
            "more": [_row(f"{MORE}{n}", proposal, tried, ()) for n, proposal in enumerate(found.more)],
            "all": _set_row(ALL, several) if several is not None and several[0] != said else None,
            "heat": heat_plot(found, view.derived.facts.vehicle),
        }
    return render(request, "correct/_cures_rest.html", context)


RANK = [*wording.VERDICTS.values(), wording.NOT_COMPUTED, wording.REFUSED]
"""Verdicts in the order that cures are shown in."""
USELESS = (wording.VERDICTS["not"], wording.VERDICTS["worse"], wording.REFUSED)
"""Those of what is folded away, with its reason."""
REST = "rest"
"""What the page asks for once the first fix stands there."""
MORE, FIRST, ALL, DROP = "more-", "first", "all", "drop-"
"""What the form sends: a cure beside those that were taken, the first that ends everything, several at once, one that
is given up."""


def _correction(view: Overview) -> Correction | None:
    return correction_of(view.derived, tuple(the_school().stock_ohm))


def _row(id: str, proposal: Proposal, tried: Mapping[Proposal, Tried | None], taken: Sequence[Any]) -> dict[str, Any]:
    result = tried.get(proposal)
    return {
        "n": id,
        "is_first": not proposal.mount or proposal.mount == "metal",
        "title": wording.cure_title(proposal),
        "does": wording.proposal_sentence(proposal, result),
        "costs": wording.cost_sentences(proposal, result),
        "verdict": wording.verdict_words(proposal, result),
        "mood": _mood(proposal, result),
        "may_be_taken": result is not None,
        "is_taken": proposal.decision is not None and proposal.decision in taken,
    }


def _set_row(n: str, several: FixSet) -> dict[str, Any]:
    proposals, tried = several
    is_single = len(proposals) == 1
    return {
        "n": n,
        "title": wording.cure_title(proposals[0]) if is_single else wording.together_title(proposals),
        "does": wording.proposal_sentence(proposals[0], tried)
        if is_single
        else " ".join(wording.tried_sentences(tried)),
        "costs": wording.cost_sentences(proposals[0], tried) if is_single else [],
        "verdict": wording.VERDICTS[tried.verdict],
        "mood": MOODS[tried.verdict],
        "may_be_taken": True,
        "is_taken": False,
    }


@require_POST
def take(request: Request, job_id: int) -> HttpResponse:
    """Take a cure, several at once, or one beside those taken; or give one or all of them up."""
    view = job_overview(job_id)
    found = _correction(view)
    text, version = request.POST.get("cure", ""), request.POST.get("version", "")
    bare = view.derived.facts.without_cures()
    if not text:
        facts, said = bare, "All fixes removed."
    elif text.startswith(DROP):
        hookup = view.derived.facts.hookup
        kept = tuple(cure for cure in hookup.cures if cure.cure != text.removeprefix(DROP))
        facts, said = replace(view.derived.facts, hookup=replace(hookup, cures=kept)), "Removed."
    else:
        proposals = _asked_for(text, view.derived, found)
        if not proposals:
            return _page(request, view, problem="That fix is no longer offered. Look again.", status=422)
        facts = view.derived.facts if text.startswith(MORE) else bare
        for proposal in proposals:
            if proposal.decision is None:
                return _page(request, view, problem=wording.proposal_sentence(proposal, None), status=422)
            facts = with_cure(facts, proposal.decision)
        said = f"Taken: {'; '.join(map(wording.cure_title, proposals))}."
    try:
        services.take(
            view.job,
            request.user,
            facts,
            version=int(version) if version.isdecimal() and len(version) < 9 else None,
        )
    except StaleError as error:
        return _page(request, view, problem=str(error), status=409)
    messages.success(request, said)
    return redirect("correct", job_id=job_id)


def _asked_for(text: str, found: Plan, correction: Correction | None) -> tuple[Proposal, ...]:
    """The proposals that a form speaks of; none where it speaks of nothing that is offered."""
    if correction is None:
        return ()
    if text in (FIRST, ALL):
        several = (first_of if text == FIRST else all_of)(found, correction)
        return several[0] if several else ()
    offered, number = correction.open, text
    if text.startswith(MORE):
        offered, number = correction.more, text.removeprefix(MORE)
    if not number.isdecimal() or len(number) > 3 or int(number) >= len(offered):
        return ()
    return (offered[int(number)],)


@require_POST
def flasher(request: Request, job_id: int) -> HttpResponse:
    """What flashes the turn lamps, as somebody found out."""
    view = job_overview(job_id)
    try:
        looks = {question.id: request.POST.get(question.id, "") for question in flasher_questions()}
        services.keep_flasher(view.job, request.user, request.POST.get("flasher", ""), looks)
    except InputError as error:
        return _page(request, view, problem=str(error), status=422)
    return redirect("correct", job_id=job_id)


@require_POST
def keep_habits(request: Request, job_id: int) -> HttpResponse:
    """How it watches its lamps, and the air there, as far as somebody measured."""
    view = job_overview(job_id)
    form = _habits_form(view, request.POST)
    if not form.is_valid():
        return _page(
            request, view, habits=form, problem="Fix the entries marked under “What monitors the lamps”.", status=422
        )
    services.keep_habits(view.job, request.user, form.stated())
    messages.success(request, "Saved, and worked out again.")
    return redirect("correct", job_id=job_id)


def _habits_form(view: Overview, data: Mapping[str, Any] | None = None) -> HabitsForm:
    vehicle = view.job.vehicle
    return HabitsForm(data, dict(vehicle.said.habits), system_scale(vehicle.said.system_v))


def _page(
    request: Request, view: Overview, *, problem: str = "", status: int = 200, habits: HabitsForm | None = None
) -> HttpResponse:
    found = _correction(view)
    context: dict[str, Any] = {
        "view": view,
        "layer": "correct",
        "problem": problem,
        "open": open_sentences(view.plan),
        "faults": fault_sentences(view.plan),
        "has_effects": found is not None,
        "is_unsolved": found is None and view.plan.is_begun,
        "version": hookup_of(view.job).version,
    }
    if found is not None:
        shown = _complained_of_first(view.job.complaint, found.now if found.taken else found.before)
        state = _asked(request, view.plan.together, shown)
        context |= {
            "sentence": wording.what_next(
                found.before,
                found.now,
                is_taken=bool(found.taken),
                forbidden=[finding_text(each, view.plan) for each in view.plan.forbidden],
            ),
            "complaint": complaint_sentence(view.job.complaint, found.before, flasher_of(view.job)),
            "effects": [_effect(group, found.sides) for group in wording.effect_groups(causes_of(shown))],
            "gone": [
                wording.effect_title(group[0])
                for group in wording.effect_groups([effect for effect in found.before if effect not in shown])
            ],
            "is_taken": bool(found.taken),
            "taken": [(CURE_NAMES[cure.cure], f"{DROP}{cure.cure}") for cure in found.taken],
            "boards": _boards(view.derived, state, found.before, found.now, reverse("hookup", args=[view.job.id])),
            "roads": roads_of(shown, view.plan.together.simulation, state) if view.plan.together else (),
            "strip": switches(state, STRIP, all_off=True, within=_states(view.plan.together)),
            "state": str(state),
            "state_name": state_name(state),
            "flashers": [
                (kind, name, kind == view.job.vehicle.said.flasher) for kind, name in wording.FLASHERS.items()
            ],
            **_looks(view),
            "usual_flasher": wording.FLASHERS[view.derived.facts.vehicle.usual_flasher],
            "is_flasher_known": flasher_of(view.job) is not None,
            "habits": habits or _habits_form(view),
        }
    return render(request, "correct/correct.html", context, status=status)


def _looks(view: Overview) -> dict[str, Any]:
    """Looks and tests of the flasher, what they make likely, and the one to do next."""
    answers = view.job.vehicle.flasher_looks
    belief = believe_flasher(answers, view.job.vehicle.said.computer)
    return {
        "looks": [
            {
                "id": question.id,
                "asks": wording.LOOKS[question.id],
                "answers": [
                    (answer, wording.ANSWERS[question.id, answer], answers.get(question.id) == answer)
                    for answer in question.answers
                ],
                "is_next": question.id == belief.ask,
            }
            for question in flasher_questions()
        ],
        "likely": wording.belief_sentence(belief) if answers else "",
        "ask": wording.LOOKS.get(belief.ask, ""),
    }


def _effect(group: tuple[Effect, ...], sides: tuple[WatchedSide, ...]) -> dict[str, Any]:
    effect = replace(group[0], states=tuple(dict.fromkeys(state for each in group for state in each.states)))
    named = dict.fromkeys(subject for each in group for subject in each.subjects)
    others = [subject for subject in named if subject != effect.finding.subject]
    return {
        "why": wording.why(effect, sides),
        "title": wording.effect_title(effect),
        "others": wording.also_about(others),
        "states": wording.effect_states(effect),
        "is_error": effect.finding.severity == "error",
        "at": effect.finding.state,
        "at_name": state_name(parse_state(effect.finding.state)).lower(),
    }


def _states(together: Together | None) -> tuple[State, ...]:
    return together.simulation.states if together is not None else ()


def _complained_of_first(complaint: str, effects: tuple[Effect, ...]) -> tuple[Effect, ...]:
    """What somebody complains of comes first: the page opens in its state."""
    first = shown_by(complaint, effects) if complaint else ()
    return (*first, *(effect for effect in effects if effect not in first))


def _asked(request: Request, together: Together | None, effects: tuple[Effect, ...]) -> State:
    """The state that is looked at: as asked for, else the first that something is wrong in."""
    states = _states(together)
    try:
        asked = parse_state(request.GET.get("at", ""))
    except InputError:
        asked = parse_state(effects[0].finding.state if effects else "left")
    return asked if asked in states else parse_state("left") if parse_state("left") in states else states[0]


def _boards(
    found: Plan, state: State, before: tuple[Effect, ...], now: tuple[Effect, ...], hookup: str
) -> list[Board]:
    together, body = found.hookup.together, found.facts.vehicle.body
    if together is None:
        return []
    facts = found.facts
    bare = plan(facts.without_cures(), like=found) if facts.hookup.cures else found
    first = bare.hookup.together
    zones, leads = _zones(found), _leads(found)

    def wrong(effects: tuple[Effect, ...]) -> dict[str, str]:
        """Where to look for each problem: the circuit of an added lamp, else the path of the current."""
        names = (name for effect in effects if str(state) in effect.states for name in effect.subjects)
        return {
            name: f"{hookup}?lead={leads[name]}&at={state}#hookup-circuit" if name in leads else "#road"
            for name in names
        }

    boards = [board_of("As it was", as_it_was(bare, together.simulation.states), state, {}, {}, body)]
    if first is not None:
        boards.append(board_of("As changed", first.simulation, state, zones, wrong(before), body))
    if facts.hookup.cures:
        boards.append(board_of("Fixed", together.simulation, state, zones, wrong(now), body))
    return boards


def _leads(found: Plan) -> dict[str, str]:
    """The lead of each added lamp, by the name of its element."""
    design = found.hookup.design
    return {light.element.name: light.lead for light in design.lights} if design is not None else {}


def _zones(found: Plan) -> dict[str, str]:
    """Where each added lamp is, by the name of its element."""
    design = found.hookup.design
    if design is None:
        return {}
    spots = {end.what: end.spot.zone for end in design.ends()}
    return {
        light.element.name: spots.get(light.element.name.partition(",")[0], "rear centre") for light in design.lights
    }


MOODS = {"cures": "good", "costs": "good", "half": "odd", "not": "odd", "worse": "bad"}


def _mood(proposal: Proposal, tried: Tried | None) -> str:
    if proposal.refusal:
        return "refused"
    return "open" if tried is None else MOODS[tried.verdict]
