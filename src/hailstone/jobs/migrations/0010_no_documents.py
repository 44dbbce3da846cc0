from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("jobs", "0009_tools"), ("hookup", "0013_from_documents")]

    operations = [migrations.RemoveField(model_name="job", name=name) for name in ("units", "spots")]
