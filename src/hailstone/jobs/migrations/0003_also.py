from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0002_own_leads")]
    operations = [
        migrations.AddField(
            model_name="job",
            name="also",
            field=models.CharField(blank=True, default="", max_length=300),
            preserve_default=False,
        ),
    ]
