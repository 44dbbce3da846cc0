from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("hookup", "0004_school")]
    operations = [
        migrations.AddField(
            model_name="hookup", name="load_override_a", field=models.FloatField(blank=True, null=True)
        ),
        migrations.AddField(
            model_name="hookup", name="hot_override_c", field=models.FloatField(blank=True, null=True)
        ),
    ]
