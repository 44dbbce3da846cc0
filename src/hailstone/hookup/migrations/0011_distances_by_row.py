"""Stated distances named their places; a new name lost them. They keep the row or the entry that stands there."""

from django.db import migrations


def kept(name, names):
    after = [(known, ref) for known, ref in names if name == known or name.startswith(f"{known} ")]
    if not after:
        return name
    known, ref = max(after, key=lambda each: len(each[0]))
    rest = name.removeprefix(known)
    return f"{ref}>{rest}" if rest else ref


def by_row(apps, schema_editor):
    for choice in apps.get_model("hookup", "HookUp").objects.exclude(distances=[]).select_related("job"):
        points = apps.get_model("identify", "AccessPoint").objects.filter(job=choice.job)
        names = [(point.name, f"#{point.id}") for point in points]
        names += [(entry["name"], f"={entry['id']}") for entry in choice.job.units]
        choice.distances = [[kept(first, names), kept(second, names), m] for first, second, m in choice.distances]
        choice.save(update_fields=["distances"])


class Migration(migrations.Migration):
    dependencies = [("hookup", "0010_stock"), ("identify", "0005_all_wires"), ("jobs", "0008_habits")]

    operations = [migrations.RunPython(by_row, migrations.RunPython.noop)]
