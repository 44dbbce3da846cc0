from django.db import migrations, models

CIRCUIT = ("fed_by", "host_bulb", "host_count", "host_fuse_a", "host_wire")
OVERRIDES = {"load_override_a": "load_a", "hot_override_c": "hot_c"}


def to_circuits(apps, schema_editor):
    """What was noted of the one circuit stands for whichever is tapped until that one has notes of its own."""
    for choice in apps.get_model("hookup", "HookUp").objects.all():
        choice.circuits = {"": {name: getattr(choice, name) for name in CIRCUIT}}
        found = {new: getattr(choice, old) for old, new in OVERRIDES.items()}
        choice.overrides = {name: value for name, value in found.items() if value is not None}
        choice.save(update_fields=["circuits", "overrides"])


class Migration(migrations.Migration):
    dependencies = [("hookup", "0005_overrides")]
    operations = [
        migrations.AddField(model_name="hookup", name="circuits", field=models.JSONField(default=dict)),
        migrations.AddField(model_name="hookup", name="leads", field=models.JSONField(default=dict)),
        migrations.AddField(model_name="hookup", name="overrides", field=models.JSONField(default=dict)),
        migrations.AddField(
            model_name="hookup",
            name="keeps",
            field=models.CharField(
                choices=[
                    ("for_good", "For good"),
                    ("single_use", "For one use, then off again"),
                    ("lease", "On a lease or hire car that goes back as it came"),
                ],
                default="for_good",
                max_length=10,
            ),
        ),
        migrations.AddField(
            model_name="hookup", name="ground_wire", field=models.CharField(default="18", max_length=4)
        ),
        migrations.AddField(
            model_name="school", name="correction", field=models.CharField(default="flasher", max_length=10)
        ),
        *(
            migrations.AlterField(
                model_name=model,
                name="ground",
                field=models.CharField(default="wire", max_length=5),
            )
            for model in ("hookup", "school")
        ),
        migrations.RunPython(to_circuits, migrations.RunPython.noop),
        *(migrations.RemoveField(model_name="hookup", name=name) for name in (*CIRCUIT, *OVERRIDES)),
    ]
