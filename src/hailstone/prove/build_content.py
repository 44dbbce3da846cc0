"""What the build sheet shows, on the page, on paper and as PDF."""

from __future__ import annotations

from typing import Any

from django.conf import settings

from electrics.build.loom import loom_of
from hailstone.layers.progress import Overview
from hailstone.layers.undo import plan_change
from hailstone.prove import shown
from hailstone.prove.content import assumed_lines, lead_lines, papers, told_lines, unfixed_lines
from hailstone.prove.loom import LoomPicture, loom_picture
from hailstone.wording.build import fuse_note, join_row, part_row, wire_row
from hailstone.wording.findings import fault_sentences, open_sentences

__all__ = ["build_context", "loom_of_job"]


def build_context(view: Overview) -> dict[str, Any]:
    """What the build sheet shows, on the page and on paper."""
    plan = view.build
    context = {
        "view": view,
        "layer": "build",
        "plan": plan,
        "steps": shown.steps(view, plan_change(view.job)),
        "ways": lead_lines(view),
        "open": open_sentences(view.plan),
        "faults": fault_sentences(view.plan),
        "papers": papers(view.job),
        "assumed": assumed_lines(view),
        "told": told_lines(view),
        "unfixed": unfixed_lines(view),
        "workshop": settings.WORKSHOP,
    }
    if plan:
        context["parts"] = [part_row(part) for part in plan.parts]
        context["fuse_note"] = fuse_note(plan.parts) if plan.wires else ""
        context["wires"] = [wire_row(wire, plan.joins) for wire in plan.wires]
        context["joins"] = [join_row(join) for join in plan.joins]
        context["lengths"] = shown.lengths(view, plan)
        context["loom"] = loom_of_job(view)
    return context


def loom_of_job(view: Overview) -> LoomPicture | None:
    """The loom of a job as a picture; None where no wire is laid."""
    plan = view.build
    if plan is None or not plan.wires:
        return None
    return loom_picture(loom_of(plan, view.derived.facts.vehicle.body))
