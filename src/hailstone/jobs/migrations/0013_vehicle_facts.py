"""What is known of a vehicle stands in one document; its arrangement goes from its jobs to it, the last that said so."""

from django.db import migrations, models

USUAL = {"system_v": 12, "computer": "unknown", "body": "car"}
"""Written also where they are as usual."""


def to_facts(apps, schema_editor):
    arrangements = {}
    for job in apps.get_model("jobs", "Job").objects.exclude(arrangement="").order_by("id"):
        arrangements[job.vehicle_id] = job.arrangement
    for vehicle in apps.get_model("jobs", "Vehicle").objects.iterator():
        facts = {name: getattr(vehicle, name) or usual for name, usual in USUAL.items()}
        facts["arrangement"] = arrangements.get(vehicle.id)
        facts["not_fitted"] = sorted(filter(None, vehicle.not_fitted.split(",")))
        facts["flasher"] = vehicle.flasher
        facts["habits"] = [list(each) for each in vehicle.habits.items()]
        vehicle.facts = {name: value for name, value in facts.items() if value}
        vehicle.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [("jobs", "0012_undo_of_decisions")]

    operations = [
        migrations.AddField("vehicle", "facts", models.JSONField(default=dict)),
        migrations.RunPython(to_facts, migrations.RunPython.noop),
        *(
            migrations.RemoveField("vehicle", name)
            for name in ("system_v", "computer", "not_fitted", "body", "flasher", "habits")
        ),
        migrations.RemoveField("job", "arrangement"),
    ]
