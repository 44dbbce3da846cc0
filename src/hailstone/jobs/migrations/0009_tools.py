from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0008_habits")]

    operations = [
        migrations.AddField(
            model_name="job",
            name="tools",
            field=models.CharField(blank=True, max_length=100),
        ),
    ]
