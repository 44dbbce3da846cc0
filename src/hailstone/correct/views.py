"""Correct: what the change upsets, on the lamp board and in words, and the cures, each tried on the circuit."""

from __future__ import annotations

from dataclasses import replace
from typing import Any

from django.contrib import messages
from django.http import HttpRequest, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_GET, require_POST

from electrics.correct.cures import Proposal, Side
from electrics.correct.effects import Effect
from electrics.correct.flasher import believe_flasher, flasher_questions
from electrics.errors import InputError
from electrics.hookup.trial import Together
from electrics.job.correction import decision_of
from electrics.job.plan import Plan, plan
from electrics.vocabulary import State, parse_state
from hailstone.correct import services
from hailstone.correct.board import Board, board_of
from hailstone.correct.heat import heat_plot
from hailstone.jobs.queries import job_overview
from hailstone.jobs.services import StaleError
from hailstone.layers.corrections import as_it_was, correction_of, tried_of
from hailstone.layers.job_facts import hookup_of
from hailstone.layers.progress import Overview
from hailstone.shop.switches import STRIP, switches
from hailstone.wording import correct as wording
from hailstone.wording.complaints import complaint_sentence
from hailstone.wording.hookup import open_sentences
from hailstone.wording.words import state_name


@require_GET
def correct(request: HttpRequest, job_id: int) -> HttpResponse:
    """The whole page; cures follow by a request of their own."""
    return _page(request, job_overview(job_id))


@require_GET
def cures(request: HttpRequest, job_id: int) -> HttpResponse:
    """Every cure with what it does, tried on the circuit."""
    view = job_overview(job_id)
    found = correction_of(view.derived)
    context: dict[str, Any] = {"view": view, "rows": [], "version": hookup_of(view.job).version}
    if found is not None:
        tried = tried_of(view.derived, found)
        taken = found.taken[0] if found.taken else None
        rows = [
            {
                "n": n,
                "is_first": not proposal.mount or proposal.mount == "metal",
                "title": wording.cure_title(proposal),
                "does": wording.proposal_sentence(proposal, tried.get(proposal)),
                "costs": [wording.COSTS[cost] for cost in proposal.costs],
                "verdict": wording.verdict_words(proposal, tried.get(proposal)),
                "mood": _mood(proposal, tried.get(proposal)),
                "may_be_taken": tried.get(proposal) is not None,
                "is_taken": taken is not None and decision_of(proposal) == taken,
            }
            for n, proposal in enumerate(found.open)
        ]
        first = [row for row in rows if row["is_first"]]
        context |= {"rows": first, "mounts": [row for row in rows if not row["is_first"]]}
        context["heat"] = heat_plot(found, view.job.vehicle.system_v)
    return render(request, "correct/_cures.html", context)


@require_POST
def take(request: HttpRequest, job_id: int) -> HttpResponse:
    """Take a cure, or give it up."""
    view = job_overview(job_id)
    found = correction_of(view.derived)
    text, version = request.POST.get("cure", ""), request.POST.get("version", "")
    proposal = None
    if text:
        if found is None or not text.isdecimal() or len(text) > 3 or int(text) >= len(found.open):
            return _page(request, view, problem="That cure is not offered any more. Look again.", status=422)
        proposal = found.open[int(text)]
        if proposal.refusal or proposal.is_named:
            return _page(request, view, problem=wording.proposal_sentence(proposal, None), status=422)
    try:
        services.take(
            view.job,
            request.user,
            decision_of(proposal) if proposal else None,
            version=int(version) if version.isdecimal() and len(version) < 9 else None,
        )
    except StaleError as error:
        return _page(request, view, problem=str(error), status=409)
    said = f"Taken: {wording.cure_title(proposal)}." if proposal else "Without a cure again."
    messages.success(request, said)
    return redirect("correct", job_id=job_id)


@require_POST
def flasher(request: HttpRequest, job_id: int) -> HttpResponse:
    """What flashes the turn lamps, as somebody found out."""
    view = job_overview(job_id)
    try:
        looks = {question.id: request.POST.get(question.id, "") for question in flasher_questions()}
        services.keep_flasher(view.job, request.user, request.POST.get("flasher", ""), looks)
    except InputError as error:
        return _page(request, view, problem=str(error), status=422)
    return redirect("correct", job_id=job_id)


def _page(request: HttpRequest, view: Overview, *, problem: str = "", status: int = 200) -> HttpResponse:
    found = correction_of(view.derived)
    context: dict[str, Any] = {
        "view": view,
        "layer": "correct",
        "problem": problem,
        "open": open_sentences(view.plan),
        "has_effects": found is not None,
        "is_unsolved": found is None and view.plan.is_begun,
        "version": hookup_of(view.job).version,
    }
    if found is not None:
        shown = found.now if found.taken else found.before
        state = _asked(request, view.plan.together, shown)
        context |= {
            "sentence": wording.what_next(found.before, found.now, is_taken=bool(found.taken)),
            "complaint": complaint_sentence(view.job.complaint, found.before),
            "effects": [_effect(effect, found.sides) for effect in shown],
            "gone": [wording.effect_title(effect) for effect in found.before if effect not in shown],
            "is_taken": bool(found.taken),
            "taken": [wording.CURE_NAMES[cure.cure] for cure in found.taken],
            "boards": _boards(view.derived, state, found.before, found.now),
            "strip": switches(state, STRIP, all_off=True, within=_states(view.plan.together)),
            "state": str(state),
            "state_name": state_name(state),
            "flashers": [(kind, name, kind == view.job.vehicle.flasher) for kind, name in wording.FLASHERS.items()],
            **_looks(view),
            "usual_flasher": wording.FLASHERS[view.derived.facts.vehicle.usual_flasher],
            "is_flasher_known": bool(view.job.vehicle.flasher),
        }
    return render(request, "correct/correct.html", context, status=status)


def _looks(view: Overview) -> dict[str, Any]:
    """Looks and tests of the flasher, what they make likely, and the one to do next."""
    answers = view.job.vehicle.flasher_looks
    belief = believe_flasher(answers, view.job.vehicle.computer)
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


def _effect(effect: Effect, sides: tuple[Side, ...]) -> dict[str, Any]:
    return {
        "why": wording.why(effect, sides),
        "title": wording.effect_title(effect),
        "states": wording.effect_states(effect),
        "is_error": effect.finding.severity == "error",
        "at": effect.finding.state,
    }


def _states(together: Together | None) -> tuple[State, ...]:
    return together.simulation.states if together is not None else ()


def _asked(request: HttpRequest, together: Together | None, effects: tuple[Effect, ...]) -> State:
    """The state that is looked at: as asked for, else the first that something is wrong in."""
    states = _states(together)
    try:
        asked = parse_state(request.GET.get("at", ""))
    except InputError:
        asked = parse_state(effects[0].finding.state if effects else "left")
    return asked if asked in states else parse_state("left") if parse_state("left") in states else states[0]


def _boards(found: Plan, state: State, before: tuple[Effect, ...], now: tuple[Effect, ...]) -> list[Board]:
    together = found.hookup.together
    if together is None:
        return []
    facts = found.facts
    bare = plan(replace(facts, hookup=replace(facts.hookup, cures=()))) if facts.hookup.cures else found
    first = bare.hookup.together
    zones = _zones(found)
    boards = [board_of("As it was", as_it_was(bare, together.simulation.states), state, {}, ())]
    if first is not None:
        boards.append(board_of("As changed", first.simulation, state, zones, _wrong(before, state)))
    if facts.hookup.cures:
        boards.append(board_of("Cured", together.simulation, state, zones, _wrong(now, state)))
    return boards


def _wrong(effects: tuple[Effect, ...], state: State) -> set[str]:
    return {effect.finding.subject for effect in effects if str(state) in effect.states}


def _zones(found: Plan) -> dict[str, str]:
    """Where each added lamp is, by the name of its element."""
    design = found.hookup.design
    if design is None:
        return {}
    spots = {end.what: end.spot.zone for end in design.ends()}
    return {
        light.element.name: spots.get(light.element.name.partition(",")[0], "rear centre").removeprefix("towed ")
        for light in design.lights
    }


def _mood(proposal: Proposal, tried: Any) -> str:
    if proposal.refusal:
        return "refused"
    if tried is None:
        return "open"
    return {"cures": "good", "costs": "good", "half": "odd", "not": "odd", "worse": "bad"}[tried.verdict]
