"""What can be undone is the job's document. Before, decisions and the hook-up's columns stood beside each other."""

from typing import Any

from django.db import migrations

OF_ONE_LEAD: dict[str, Any] = {"overrides": {}, "out_m": None, "back_m": None}
"""What the first lead's run keeps to itself."""
OF_HOOKUP = ("override", "keeps", "circuits")
NOT_OF_RUN = (*OF_HOOKUP, "labels")


def as_document(state):
    decided, columns = state["decided"], dict(state.get("hookup") or {})
    run = {name: value for name, value in columns.items() if name not in NOT_OF_RUN}
    followed = {**run, **OF_ONE_LEAD}
    hookup = {name: columns[name] for name in OF_HOOKUP if name in columns}
    hookup |= {"run": run, "runs": {lead: {**followed, **own} for lead, own in decided.get("runs", {}).items()}}
    hookup |= {name: decided[name] for name in ("ways", "cures") if name in decided}
    return {
        "vehicle": {},
        "places": [],
        "wish": {"kind": ""},
        "units": decided.get("units", []),
        "zones": decided.get("spots", {}),
        "distances": decided.get("distances", []),
        "hookup": hookup,
    }


def as_documents(apps, schema_editor):
    for before in apps.get_model("jobs", "Before").objects.iterator():
        if "decided" in before.state:
            before.state = {"document": as_document(before.state), "ticks": before.state.get("ticks", [])}
            before.save(update_fields=["state"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0015_as_found")]

    operations = [migrations.RunPython(as_documents, migrations.RunPython.noop)]
