from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("hookup", "0013_from_documents")]

    operations = [
        migrations.RemoveField(model_name="hookup", name=name) for name in ("ways", "leads", "distances", "cures")
    ]
