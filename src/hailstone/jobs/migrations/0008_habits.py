from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [
        ("jobs", "0007_flasher"),
    ]

    operations = [
        migrations.AddField(
            model_name="vehicle",
            name="habits",
            field=models.JSONField(default=dict),
        ),
    ]
