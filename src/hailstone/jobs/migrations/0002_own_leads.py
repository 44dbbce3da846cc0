from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("jobs", "0001_initial")]
    operations = [
        migrations.AddField(
            model_name="job", name="own_leads", field=models.TextField(blank=True, default=""), preserve_default=False
        ),
    ]
