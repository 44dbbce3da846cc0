"""What is added are units with sides: decisions of a lead become those of the same lead of every unit.

The table is as the kinds were when this was written. A length and a number typed in stay with the first of them. Signed
facts are named alike, so that no signature falls.
"""

from django.db import migrations

BOTH = ("left", "right")


def both(lead):
    return tuple(f"{side}-{lead}" for side in BOTH)


def turns(**more):
    return {"left": ("left-turn",), "right": ("right-turn",)} | {lead: both(lead) for lead in more if more[lead]}


PAIRS_OF_ONE = {
    "reverse_lamps": "reverse",
    "reverse_switch": "reverse",
    "running_lamps": "tail",
    "grille_lamps": "tail",
    "licence_cutout": "licence",
}
"""Kinds of one lead that were counted: from two on they are a left and a right one."""

PAIRS = {
    "mirror_turn_pair": turns(),
    "combined_tail_lamps": turns(tail=True),
    "separate_tail_lamps": turns(tail=True, stop=True),
    "led_bulbs": turns(tail=True, stop=True, reverse=True),
    "led_bulbs_combined": turns(tail=True, reverse=True),
    "motorcycle_signals": {**turns(), "tail": ("motorcycle_tail-tail",)},
    "front_both": turns(),
    "front_daytime": turns(tail=True),
    "towed_car": turns(tail=True),
    "rear_loom": turns(tail=True, stop=True, reverse=True),
}


def leads_of(kind, count):
    """New leads of a kind by its old ones."""
    if kind in PAIRS_OF_ONE and count > 1:
        return {PAIRS_OF_ONE[kind]: both(PAIRS_OF_ONE[kind])}
    return PAIRS.get(kind, {})


def renamed(job):
    """New leads of a job by its old ones; a lead that is not there stays as it is."""
    also = [kind for kind in job.also.split(",") if kind and kind != job.addition]
    if not also:
        return leads_of(job.addition, job.added_count)
    found = {}
    for kind, count in ((job.addition, job.added_count), *((kind, 2) for kind in also)):
        for old, new in leads_of(kind, count).items():
            found[f"{kind}-{old}"] = tuple(f"{kind}-{lead}" for lead in new)
    return found


def rename(apps, schema_editor):
    for choice in apps.get_model("hookup", "HookUp").objects.select_related("job"):
        leads = renamed(choice.job)
        choice.ways = {new: way for old, way in choice.ways.items() for new in leads.get(old, (old,))}
        runs = {}
        for old, run in choice.leads.items():
            first, *others = leads.get(old, (old,))
            runs[first] = run
            for new in others:
                runs[new] = {
                    name: value for name, value in run.items() if name not in ("out_m", "back_m", "overrides")
                }
        choice.leads = {lead: run for lead, run in runs.items() if run}
        choice.save(update_fields=["ways", "leads"])
    for signature in apps.get_model("prove", "Signature").objects.select_related("job"):
        signature.facts = signed_alike(signature.facts, renamed(signature.job))
        signature.save(update_fields=["facts"])


def signed_alike(facts, leads):
    """The same facts under the new names."""
    found = {}
    for key, value in facts.items():
        family, _, rest = key.partition(":")
        lead, _, field = rest.rpartition(":") if family == "run" else (rest, "", "")
        if family not in ("way", "run") or lead not in leads:
            found[key] = value
            continue
        first, *others = leads[lead]
        found[f"{family}:{first}" + (f":{field}" if field else "")] = value
        if field not in ("out_m", "back_m", "overrides"):
            for new in others:
                found[f"{family}:{new}" + (f":{field}" if field else "")] = value
    return found


class Migration(migrations.Migration):
    dependencies = [("hookup", "0006_circuits_and_leads"), ("jobs", "0004_not_fitted"), ("prove", "0002_revisions")]
    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
