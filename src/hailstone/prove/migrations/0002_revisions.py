"""Signatures become revisions that hold the sheet as it was printed.

What was signed before is carried over from its stored results alone: its sheet lists them, and it stands as long as
what people entered stays as it is now, results that came after the signature excepted.
"""

import django.db.models.deletion
from django.db import migrations, models

FLASH = {"on": "lit", "off": "dark", "flash": "flashing", "part": "dim"}


JOB = ("title", "addition", "also", "own_leads", "added_count", "added_each_a")
VEHICLE = ("make", "model", "year", "market", "system_v")


def plain(words):
    return words.replace("_", " ").replace("+", " and ").capitalize()


def text(value):
    if isinstance(value, float):
        return f"{value:g}"
    return "" if value is None else str(value)


def carry_over(apps, schema_editor):
    Signature = apps.get_model("prove", "Signature")
    Result = apps.get_model("prove", "Result")
    for signature in Signature.objects.select_related("job__vehicle", "who"):
        signed = [each for each in Result.objects.filter(job=signature.job).order_by("id") if each.at <= signature.at]
        signature.sheet = sheet_of(signature, signed)
        signature.facts = {
            **{f"job:{name}": text(getattr(signature.job, name)) for name in JOB},
            **{f"vehicle:{name}": text(getattr(signature.job.vehicle, name)) for name in VEHICLE},
            **{f"result:{r.line}": " ".join(filter(None, (r.outcome, r.reading, r.note))) for r in signed},
        }
        signature.save(update_fields=["sheet", "facts"])


def sheet_of(signature, results):
    job, vehicle = signature.job, signature.job.vehicle
    states: dict = {}
    lamps: dict = {}
    measured: list = []
    for each in results:
        where, _, lamp = each.line.partition("|")
        by = f"{each.who.username}, {each.at:%d %b %Y, %H:%M}"
        asked = each.expected.partition(":")[2]
        if where == "measure":
            name = plain(lamp)
            measured.append(
                {
                    "name": name,
                    "asks": asked,
                    "signal": "",
                    "outcome": each.outcome,
                    "reading": each.reading,
                    "by": by,
                }
            )
        else:
            lamps.setdefault(lamp, plain(lamp.replace(":", " ")))
            line = {"signal": FLASH.get(asked, asked), "outcome": each.outcome, "note": each.note}
            states.setdefault(where, {"by": by, "lines": {}})["lines"][lamp] = line
    nothing = {"signal": "", "outcome": "untested", "note": ""}
    return {
        "format": 1,
        "workshop": "",
        "vehicle": " ".join(str(part) for part in (vehicle.make, vehicle.model, vehicle.year) if part),
        "title": job.title,
        "added": "",
        "leads": [],
        "override": "",
        "verdict_id": signature.verdict,
        "verdict": plain(signature.verdict),
        "lamps": list(lamps.values()),
        "states": [
            {"name": plain(where), "by": found["by"], "lines": [found["lines"].get(lamp, nothing) for lamp in lamps]}
            for where, found in states.items()
        ],
        "measured": measured,
        "build": {"runs": [], "parts": [], "steps": []},
        "carried_over": True,
    }


class Migration(migrations.Migration):
    dependencies = [("prove", "0001_initial"), ("jobs", "0004_not_fitted")]

    operations = [
        migrations.AddField("buildtick", "is_needed", models.BooleanField(default=True)),
        migrations.AlterField(
            "signature",
            "job",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="signatures", to="jobs.job"),
        ),
        migrations.AddField("signature", "number", models.PositiveSmallIntegerField(default=1)),
        migrations.AddField("signature", "sheet", models.JSONField(default=dict)),
        migrations.AddField("signature", "facts", models.JSONField(default=dict)),
        migrations.RunPython(carry_over, migrations.RunPython.noop),
        migrations.RemoveField("signature", "fingerprint"),
        migrations.AlterModelOptions("signature", {"ordering": ["number"]}),
        migrations.AddConstraint(
            "signature", models.UniqueConstraint(fields=["job", "number"], name="revision_once_a_job")
        ),
    ]
