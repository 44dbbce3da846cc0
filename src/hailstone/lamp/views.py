"""The lamp to be fitted: its leads, the trials, and what follows from them."""

from __future__ import annotations

from django.contrib import messages
from django.http import Http404, HttpResponse
from django.shortcuts import redirect, render
from django.views.decorators.http import require_POST

from electrics.document.lamp import Seen
from electrics.errors import FactError
from electrics.identify.leads_needed import enough_for, next_trials_for
from electrics.job.beliefs import lead_for
from electrics.job.plan import tried_kind
from hailstone.lamp import services
from hailstone.lamp.forms import LeadsForm, TrialForm
from hailstone.layers.job_facts import fitted_lamp
from hailstone.layers.overviews import job_overview
from hailstone.layers.progress import Overview
from hailstone.shop.request import Request
from hailstone.wording import lamp as wording

KEYS = {Seen.DARK: "d", Seen.DIM: "m", Seen.LIT: "l", Seen.BLEW: "f"}


def lamp(request: Request, job_id: int) -> HttpResponse:
    """The lamp on the bench; a posted trial is kept."""
    view = job_overview(job_id)
    if fitted_lamp(view.job) is None:
        return redirect("leads", job_id=job_id)
    form, status, problem = None, 200, ""
    if request.method == "POST":
        form = TrialForm(request.POST, leads=[str(lead) for lead in view.job.lamp.leads.all()])
        try:
            if form.is_valid():
                services.try_pair(view.job.lamp, form.trial(), request.user)
                view, form = job_overview(job_id), None
            else:
                problem = "Not saved: " + " ".join(str(e) for errors in form.errors.values() for e in errors)
        except FactError as error:
            problem = f"Not saved: {error}"
        status = 422 if problem else 200
    return _lamp(request, view, form, problem=problem, status=status)


def leads(request: Request, job_id: int) -> HttpResponse:
    """Which leads the lamp has."""
    view = job_overview(job_id)
    stored = fitted_lamp(view.job)
    labels = [str(lead) for lead in stored.leads.all()] if stored else []
    initial = {"leads": "\n".join(map(wording.lead_line, stored.leads.all())), "kind": stored.kind} if stored else {}
    trials = stored.trials.all() if stored else ()
    tried = {str(lead) for trial in trials for lead in (trial.plus, trial.minus)}
    form = LeadsForm(request.POST or None, initial=initial, kinds=_kinds(view), listed_before=labels, tried=tried)
    if request.method == "POST" and form.is_valid():
        try:
            facts = form.cleaned_data
            services.lay_out(view.job, facts["leads"], request.user, facts["kind"], renamed=facts["renamed"])
        except FactError as error:
            form.add_error("kind", str(error))
        else:
            return redirect("lamp", job_id=job_id)
    context = {"view": view, "form": form, "layer": "identify", "lamp": stored}
    return render(request, "lamp/leads.html", context, status=422 if form.is_bound else 200)


def _kinds(view: Overview) -> list[tuple[str, str]]:
    """The kinds of the job's things, each once."""
    units = (unit for unit in view.plan.accessory.units if unit.kind is not None)
    return list({unit.kind.id: unit.kind.name for unit in units if unit.kind}.items())


@require_POST
def undo_trial(request: Request, job_id: int) -> HttpResponse:
    """Take the last trial back."""
    view = job_overview(job_id)
    stored = fitted_lamp(view.job)
    if stored is None:
        raise Http404("no lamp")
    last = services.undo_trial(stored, request.user)
    if last is None:
        messages.info(request, "Nothing was tried yet.")
    else:
        messages.success(request, f"Undone: {last}.")
    return redirect("lamp", job_id=job_id)


def _lamp(
    request: Request, view: Overview, form: TrialForm | None, *, problem: str = "", status: int = 200
) -> HttpResponse:
    belief, every = view.plan.lamp, "every" in request.GET
    assert belief is not None
    wanted = () if every else view.lamp_wanted
    is_enough = enough_for(belief, wanted)
    steps = next_trials_for(belief, wanted)
    step = steps[0] if steps else None
    colours = {lead.label: lead.colour for lead in view.job.lamp.leads.all()}
    labels = list(colours)
    if form is None:
        pair = (step.plus, step.minus) if step else (labels[0], labels[1])
        form = TrialForm(
            initial={"plus": pair[0], "minus": pair[1], "fuse_a": step.fuse_a if step else None}, leads=labels
        )
    kind = tried_kind(view.plan.accessory, view.derived.facts.lamp)
    own = next((lead for lead in view.plan.leads if lead.lead.kind == kind), view.plan.leads[0])
    fed = lead_for(belief, own.lead.wanted.functions[0])
    context = {
        "view": view,
        "layer": "identify",
        "belief": belief,
        "form": form,
        "step": step,
        "do": wording.do_sentence(step) if step else "",
        "why": wording.why_sentence(belief, step) if step else "",
        "leads": [
            (lead, colours[lead.lead], wording.lead_name(lead, belief), wording.chart_sentence(lead))
            for lead in belief.leads
        ],
        "fed": fed,
        "is_enough": is_enough,
        "enough": wording.enough_sentences(belief, wanted) if is_enough else None,
        "every": every,
        "summary": wording.summary(belief),
        "trials": [
            (wording.trial_sentence(core), core in belief.odd, stored)
            for core, stored in zip(belief.trials, view.job.lamp.trials.all(), strict=True)
        ],
        "buttons": [(str(seen), name, KEYS[seen]) for seen, name in wording.SEEN.items()],
        "caution": wording.CAUTION,
        "end": wording.end_sentences(belief) if step is None and not is_enough else None,
        "problem": problem,
    }
    template = "lamp/_lamp.html" if request.htmx else "lamp/lamp.html"
    return render(request, template, {**context, "page": context}, status=status)
