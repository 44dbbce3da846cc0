"""Results keep their history; results and ticks keep what they rest on; a signature that may have fallen has."""

from django.db import migrations, models

UNKNOWN = "It was signed before version 2 of the sheets, and whether it still stood then is not known"


def mark_carried_over(apps, schema_editor):
    """What was carried over from the first version was held against the facts of the upgrade, not of the signing."""
    Signature = apps.get_model("prove", "Signature")
    for signature in Signature.objects.all():
        if signature.sheet.get("carried_over"):
            signature.fallen = UNKNOWN
            signature.save(update_fields=["fallen"])


class Migration(migrations.Migration):
    dependencies = [("prove", "0002_revisions")]

    operations = [
        migrations.RemoveConstraint("result", "line_judged_once"),
        migrations.AlterModelOptions("result", {"ordering": ["id"]}),
        migrations.AddIndex("result", models.Index(fields=["job", "line"], name="prove_resul_job_id_line")),
        migrations.AddField("result", "rests_on", models.CharField(blank=True, default="", max_length=16), False),
        migrations.AddField("buildtick", "rests_on", models.CharField(blank=True, default="", max_length=16), False),
        migrations.AddField("signature", "fallen", models.CharField(blank=True, default="", max_length=200), False),
        migrations.RunPython(mark_carried_over, migrations.RunPython.noop),
    ]
