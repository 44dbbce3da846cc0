from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("hookup", "0002_ways")]
    operations = [
        migrations.AddField(
            model_name="hookup",
            name="override",
            field=models.CharField(blank=True, default="", max_length=200),
            preserve_default=False,
        ),
    ]
