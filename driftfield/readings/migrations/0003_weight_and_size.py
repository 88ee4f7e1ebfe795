from django.db import migrations, models


def forget(apps, schema_editor):
    """Readings are derived: those made without the new figures go, and are made anew at the next start."""
    apps.get_model("readings", "Run").objects.all().delete()
    apps.get_model("readings", "Reading").objects.all().delete()


class Migration(migrations.Migration):

    dependencies = [
        ('readings', '0002_competition'),
    ]

    operations = [
        migrations.RunPython(forget, migrations.RunPython.noop),
        migrations.AddField(
            model_name='reading',
            name='barriers_size_mm',
            field=models.FloatField(null=True, verbose_name='Longest side of the top ten'),
        ),
        migrations.AddField(
            model_name='reading',
            name='barriers_weight_g',
            field=models.FloatField(null=True, verbose_name='Weight of the top ten'),
        ),
    ]
