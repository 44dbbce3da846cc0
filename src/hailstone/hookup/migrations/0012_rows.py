import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("hookup", "0011_distances_by_row"),
        ("identify", "0005_all_wires"),
        ("units", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name="Cure",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveSmallIntegerField()),
                ("cure", models.CharField(max_length=20)),
                ("facts", models.JSONField(default=dict)),
                (
                    "hookup",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="hookup.hookup"
                    ),
                ),
            ],
            options={
                "ordering": ["position", "id"],
            },
        ),
        migrations.CreateModel(
            name="CuredLead",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveSmallIntegerField()),
                (
                    "cure",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="hookup.cure"
                    ),
                ),
                (
                    "lead",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.lead"),
                ),
            ],
            options={
                "ordering": ["position", "id"],
            },
        ),
        migrations.CreateModel(
            name="Distance",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("m", models.FloatField()),
                (
                    "first",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.place"
                    ),
                ),
                (
                    "hookup",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="hookup.hookup"
                    ),
                ),
                (
                    "second",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.place"
                    ),
                ),
            ],
            options={
                "ordering": ["id"],
            },
        ),
        migrations.CreateModel(
            name="LeadDecision",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("form", models.CharField(blank=True, max_length=40)),
                ("run", models.JSONField(default=dict)),
                (
                    "hookup",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="hookup.hookup"
                    ),
                ),
                (
                    "lead",
                    models.OneToOneField(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.lead"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="WaySource",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveSmallIntegerField()),
                ("own", models.CharField(blank=True, max_length=40)),
                (
                    "decision",
                    models.ForeignKey(
                        on_delete=django.db.models.deletion.CASCADE, related_name="+", to="hookup.leaddecision"
                    ),
                ),
                (
                    "pin",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="identify.pin"
                    ),
                ),
            ],
            options={
                "ordering": ["position", "id"],
            },
        ),
    ]
