"""Load resistors that the shop has on the shelf."""

from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("hookup", "0009_cures")]
    operations = [migrations.AddField("school", "stock_ohm", models.JSONField(default=list))]
