from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("hookup", "0003_override")]
    operations = [
        migrations.CreateModel(
            name="School",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("joint", models.CharField(default="crimp_butt", max_length=20)),
                (
                    "ground",
                    models.CharField(
                        choices=[
                            ("wire", "Own wire back to a factory ground stud"),
                            ("body", "Body screw beside the lamp, bare metal"),
                            ("lamp", "The factory lamp's ground wire"),
                        ],
                        default="wire",
                        max_length=5,
                    ),
                ),
                ("wire_standard", models.CharField(default="awg", max_length=8)),
            ],
        ),
    ]
