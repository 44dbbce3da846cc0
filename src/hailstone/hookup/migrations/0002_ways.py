from django.db import migrations, models

LEADS = {
    "reverse_lamps": "reverse",
    "camera_trigger": "trigger",
    "high_stop": "stop",
    "running_lamps": "tail",
    "turn_left": "turn",
    "turn_right": "turn",
}


def tap_to_way(apps, schema_editor):
    """A tap was always direct, and there was one lead."""
    for choice in apps.get_model("hookup", "HookUp").objects.exclude(tap=None).select_related("job"):
        choice.ways = {LEADS[choice.job.addition]: f"direct:{choice.tap_id}"}
        choice.save(update_fields=["ways"])


class Migration(migrations.Migration):
    dependencies = [("hookup", "0001_initial")]
    operations = [
        migrations.AddField(model_name="hookup", name="ways", field=models.JSONField(default=dict)),
        migrations.RunPython(tap_to_way, migrations.RunPython.noop),
        migrations.RemoveField(model_name="hookup", name="tap"),
    ]
