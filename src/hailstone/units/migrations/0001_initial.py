import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True

    dependencies = [
        ("identify", "0005_all_wires"),
        ("jobs", "0009_tools"),
    ]

    operations = [
        migrations.CreateModel(
            name="Spot",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("position", models.PositiveSmallIntegerField()),
                ("name", models.CharField(max_length=40)),
                ("zone", models.CharField(max_length=20)),
                (
                    "job",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="jobs.job"),
                ),
            ],
            options={
                "ordering": ["position", "id"],
            },
        ),
        migrations.CreateModel(
            name="Place",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("rest", models.CharField(blank=True, max_length=160)),
                (
                    "job",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="jobs.job"),
                ),
                (
                    "point",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.CASCADE,
                        related_name="+",
                        to="identify.accesspoint",
                    ),
                ),
                (
                    "spot",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.spot"
                    ),
                ),
            ],
        ),
        migrations.CreateModel(
            name="Unit",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=80)),
                ("name", models.CharField(max_length=80)),
                ("position", models.PositiveSmallIntegerField()),
                ("kind", models.CharField(blank=True, max_length=40)),
                ("side", models.CharField(blank=True, max_length=5)),
                ("facts", models.JSONField(default=dict)),
                (
                    "instead_of",
                    models.ForeignKey(
                        null=True,
                        on_delete=django.db.models.deletion.SET_NULL,
                        related_name="+",
                        to="identify.accesspoint",
                    ),
                ),
                (
                    "job",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="jobs.job"),
                ),
                (
                    "place",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.SET_NULL, related_name="+", to="units.place"
                    ),
                ),
            ],
            options={
                "ordering": ["position", "id"],
            },
        ),
        migrations.AddField(
            model_name="place",
            name="unit",
            field=models.ForeignKey(
                null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.unit"
            ),
        ),
        migrations.CreateModel(
            name="Lead",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("key", models.CharField(max_length=160)),
                ("position", models.PositiveSmallIntegerField()),
                ("facts", models.JSONField(default=dict)),
                (
                    "job",
                    models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+", to="jobs.job"),
                ),
                (
                    "unit",
                    models.ForeignKey(
                        null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+", to="units.unit"
                    ),
                ),
            ],
            options={
                "ordering": [models.OrderBy(models.F("unit__position"), nulls_last=True), "position", "id"],
            },
        ),
        migrations.AddConstraint(
            model_name="spot",
            constraint=models.UniqueConstraint(fields=("job", "name"), name="spot_name_once_a_job"),
        ),
        migrations.AddConstraint(
            model_name="unit",
            constraint=models.UniqueConstraint(fields=("job", "key"), name="unit_key_once_a_job"),
        ),
        migrations.AddConstraint(
            model_name="place",
            constraint=models.CheckConstraint(
                condition=models.Q(
                    models.Q(("point", None), ("unit", None)),
                    models.Q(("point", None), ("spot", None)),
                    models.Q(("spot", None), ("unit", None)),
                    _connector="OR",
                ),
                name="place_at_one_thing",
            ),
        ),
        migrations.AddConstraint(
            model_name="lead",
            constraint=models.UniqueConstraint(fields=("job", "key"), name="lead_key_once_a_job"),
        ),
    ]
