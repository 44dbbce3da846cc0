"""Findings knew their place by its name; they refer to the access point that has it."""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import OuterRef, Subquery


def find_points(apps, schema_editor):
    points = apps.get_model("identify", "AccessPoint").objects.filter(job=OuterRef("job"), name=OuterRef("place"))
    findings = apps.get_model("wirebook", "Finding").objects.exclude(job=None)
    findings.update(point=Subquery(points.values("id")[:1]))


class Migration(migrations.Migration):
    dependencies = [("identify", "0005_all_wires"), ("wirebook", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="finding",
            name="point",
            field=models.ForeignKey(
                blank=True,
                null=True,
                on_delete=django.db.models.deletion.SET_NULL,
                related_name="+",
                to="identify.accesspoint",
            ),
        ),
        migrations.RunPython(find_points, migrations.RunPython.noop),
    ]
