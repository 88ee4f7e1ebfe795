import django.utils.timezone
from django.db import migrations, models


def drop_runs(apps, schema_editor):
    """Readings made before have no seasons to plan from; they are made anew at the next start."""
    apps.get_model("readings", "Run").objects.all().delete()


class Migration(migrations.Migration):
    dependencies = [("readings", "0001_initial")]

    operations = [
        migrations.CreateModel(
            name="MarketSettings",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("market_id", models.CharField(max_length=200, unique=True)),
                ("planning_date", models.DateField(null=True)),
                ("changed", models.JSONField(default=dict)),
            ],
        ),
        migrations.AddField(
            model_name="run",
            name="planned_at",
            field=models.DateTimeField(default=django.utils.timezone.now),
        ),
        migrations.AddField(
            model_name="run", name="planning_date", field=models.DateField(null=True)
        ),
        migrations.RunPython(drop_runs, migrations.RunPython.noop),
    ]
