"""A reading between two pins knew the second by its label; it refers to its row.

What was read against a pin that is gone says nothing any more, and goes as what was read on it went.
"""

import django.db.models.deletion
from django.db import migrations, models
from django.db.models import Q

CELLS = ("reading", "readingchange")


def find_pins(apps, schema_editor):
    pins = apps.get_model("identify", "Pin").objects
    for name in CELLS:
        cells = apps.get_model("identify", name).objects.exclude(against="")
        for cell in cells.select_related("pin").iterator():
            cell.second = pins.filter(point_id=cell.pin.point_id, label=cell.against).first()
            cell.save(update_fields=["second"])
        cells.filter(second=None).delete()


def second():
    return models.ForeignKey(
        blank=True,
        null=True,
        on_delete=django.db.models.deletion.CASCADE,
        related_name="+",
        to="identify.pin",
    )


CELL = ["pin", "state", "instrument", "load"]


class Migration(migrations.Migration):
    dependencies = [("identify", "0005_all_wires")]

    operations = [
        *(migrations.AddField(model_name=name, name="second", field=second()) for name in CELLS),
        migrations.RunPython(find_pins, migrations.RunPython.noop),
        migrations.RemoveConstraint(model_name="reading", name="reading_once_a_cell"),
        *(migrations.RemoveField(model_name=name, name="against") for name in CELLS),
        *(migrations.RenameField(model_name=name, old_name="second", new_name="against") for name in CELLS),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.UniqueConstraint(fields=CELL, condition=Q(against=None), name="reading_once_a_cell"),
        ),
        migrations.AddConstraint(
            model_name="reading",
            constraint=models.UniqueConstraint(fields=[*CELL, "against"], name="reading_once_a_pair"),
        ),
    ]
