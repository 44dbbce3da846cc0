from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("lamp", "0001_initial")]

    operations = [
        migrations.AddField(
            model_name="fittedlamp",
            name="kind",
            field=models.CharField(blank=True, max_length=40),
        ),
    ]
