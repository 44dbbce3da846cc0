"""What can be undone keeps all decisions as one part, the hook-up's own columns as another.

Before, ways, runs, distances and fixes were listed with the hook-up, units and places beside it.
"""

from typing import Any

from django.db import migrations

OF_HOOKUP: dict[str, tuple[str, Any]] = {
    "ways": ("ways", {}),
    "runs": ("leads", {}),
    "distances": ("distances", []),
    "cures": ("cures", []),
}


def as_decisions(apps, schema_editor):
    for before in apps.get_model("jobs", "Before").objects.iterator():
        state = before.state
        if "decided" in state:
            continue
        columns = dict(state.get("hookup") or {})
        decided = {name: columns.pop(stored, empty) for name, (stored, empty) in OF_HOOKUP.items()}
        decided["units"] = state.get("units", [])
        decided["spots"] = {spot["name"]: spot["zone"] for spot in state.get("spots", [])}
        before.state = {"decided": decided, "hookup": columns, "ticks": state.get("ticks", [])}
        before.save(update_fields=["state"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0011_words_of_computer")]

    operations = [migrations.RunPython(as_decisions, migrations.RunPython.noop)]
