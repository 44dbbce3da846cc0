"""Cures are decisions of their own: a way with another flasher becomes the plain way and a change of flasher."""

from django.db import migrations, models

FLASHER = {"cure": "flasher", "leads": [], "ohm": 0.0, "case_w": 0.0, "mount": "metal"}
WAS, NOW = "flasher:", "direct:"


def part_ways_and_cures(apps, schema_editor):
    """Signed facts follow, so that no signature falls."""
    for hookup in apps.get_model("hookup", "HookUp").objects.all():
        changed = {lead: NOW + key[len(WAS) :] for lead, key in hookup.ways.items() if key.startswith(WAS)}
        if changed:
            hookup.ways = {**hookup.ways, **changed}
            hookup.cures = [FLASHER]
            hookup.save(update_fields=["ways", "cures"])
    for signature in apps.get_model("prove", "Signature").objects.all():
        facts = signature.facts
        ways = [key for key, value in facts.items() if key.startswith("way:") and str(value).startswith(WAS)]
        if ways:
            signature.facts = {
                **facts,
                **{key: NOW + facts[key][len(WAS) :] for key in ways},
                "cure:flasher": "taken",
            }
            signature.save(update_fields=["facts"])


class Migration(migrations.Migration):
    dependencies = [("hookup", "0008_distances"), ("prove", "0002_revisions")]

    operations = [
        migrations.AddField(model_name="hookup", name="cures", field=models.JSONField(default=list)),
        migrations.RunPython(part_ways_and_cures, migrations.RunPython.noop),
    ]
