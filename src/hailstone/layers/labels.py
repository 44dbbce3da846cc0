"""Numbers of wires and joints that stay: kept from the first step that somebody checks off, places by reference."""

from __future__ import annotations

from electrics.design.labels import label_keys
from electrics.job.plan import Plan
from hailstone.hookup.models import HookUp
from hailstone.jobs.models import Job
from hailstone.layers.decisions import decisions_of
from hailstone.layers.refs import names_by_ref, ref_of

__all__ = ["keep_labels"]


def keep_labels(job: Job, plan: Plan) -> None:
    """Keep the numbers of all that a plan lays out; those that were kept before stay with what they stand on."""
    design = plan.hookup.design
    stored = HookUp.objects.filter(job=job).first()
    if design is None or stored is None:
        return
    names = names_by_ref(job.points.all(), decisions_of(job).units)
    kept = {(kind, place, subject): label for kind, place, subject, label in stored.labels}
    found = {
        (key.kind, ref_of(key.place, names), ref_of(key.subject, names)): label
        for key, label in label_keys(design).items()
    }
    new = [[*key, label] for key, label in found.items() if key not in kept]
    if new:
        HookUp.objects.filter(pk=stored.pk).update(labels=[*stored.labels, *new])
