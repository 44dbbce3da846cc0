from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("identify", "0004_confirmed"),
    ]

    operations = [
        migrations.AddField(
            model_name="accesspoint",
            name="all_wires",
            field=models.BooleanField(default=None, null=True),
        ),
    ]
