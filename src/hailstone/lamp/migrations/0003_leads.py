"""The leads of the lamp on the bench were a list, and trials knew them by label; they are rows that trials refer to."""

import django.db.models.deletion
from django.db import migrations, models

ENDS = ("plus", "minus")


def write_leads(apps, schema_editor):
    for lamp in apps.get_model("lamp", "FittedLamp").objects.all():
        leads = {
            label: apps.get_model("lamp", "BenchLead").objects.create(
                lamp=lamp, position=position, label=label, colour=colour
            )
            for position, (label, colour) in enumerate(lamp.leads)
        }
        for trial in apps.get_model("lamp", "LeadTrial").objects.filter(lamp=lamp):
            trial.plus_lead, trial.minus_lead = leads[trial.plus], leads[trial.minus]
            trial.save(update_fields=["plus_lead", "minus_lead"])


def end(**options):
    return models.ForeignKey(
        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="lamp.benchlead", **options
    )


class Migration(migrations.Migration):
    dependencies = [("lamp", "0002_kind")]

    operations = [
        migrations.CreateModel(
            name="BenchLead",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveSmallIntegerField()),
                ("label", models.CharField(max_length=30)),
                ("colour", models.CharField(blank=True, max_length=30)),
                (
                    "lamp",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="lamp.fittedlamp"
                    ),
                ),
            ],
            options={"ordering": ["position", "id"]},
        ),
        *(migrations.AddField("leadtrial", f"{name}_lead", end(null=True)) for name in ENDS),
        migrations.RunPython(write_leads, migrations.RunPython.noop),
        *(migrations.RemoveField("leadtrial", name) for name in ENDS),
        *(migrations.RenameField("leadtrial", f"{name}_lead", name) for name in ENDS),
        *(migrations.AlterField("leadtrial", name, end()) for name in ENDS),
        migrations.RemoveField("fittedlamp", "leads"),
        migrations.AlterField(
            "benchlead",
            "lamp",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="leads", to="lamp.fittedlamp"
            ),
        ),
        migrations.AddConstraint(
            "benchlead",
            models.UniqueConstraint(fields=("lamp", "label"), name="bench_lead_label_once_a_lamp"),
        ),
    ]
