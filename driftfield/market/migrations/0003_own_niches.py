import django.db.models.deletion
from django.db import migrations, models
from django.db.models import F


def keep_given(apps, schema_editor):
    """What stands came with the files."""
    apps.get_model("market", "Niche").objects.update(given_name=F("name"))
    apps.get_model("market", "Term").objects.update(given=F("niche"))


class Migration(migrations.Migration):
    dependencies = [
        ("market", "0002_protected_words"),
    ]

    operations = [
        migrations.AddField(
            model_name="niche",
            name="given_name",
            field=models.CharField(max_length=500, null=True),
        ),
        migrations.AddField(
            model_name="niche",
            name="own",
            field=models.BooleanField(default=False),
        ),
        migrations.AddField(
            model_name="term",
            name="given",
            field=models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="given_terms",
                to="market.niche",
            ),
        ),
        migrations.RunPython(keep_given, migrations.RunPython.noop),
        migrations.AlterField(
            model_name="term",
            name="given",
            field=models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE,
                related_name="given_terms",
                to="market.niche",
            ),
        ),
        migrations.CreateModel(
            name="NicheChange",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("market_id", models.CharField(max_length=200)),
                ("sentence", models.CharField(max_length=1000)),
                ("made_at", models.DateTimeField(auto_now_add=True)),
                ("undone_at", models.DateTimeField(null=True)),
                ("before", models.JSONField(default=dict)),
                ("after", models.JSONField(default=dict)),
                ("into", models.JSONField(default=dict)),
            ],
            options={
                "ordering": ["-pk"],
                "indexes": [models.Index(fields=["market_id", "undone_at"], name="market_nich_market__8c7b65_idx")],
            },
        ),
        migrations.CreateModel(
            name="OwnNiche",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("market_id", models.CharField(max_length=200)),
                ("niche_id", models.CharField(max_length=500)),
                ("name", models.CharField(max_length=500)),
                ("category_id", models.CharField(blank=True, max_length=200)),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("market_id", "niche_id"), name="one_own_niche")
                ],
            },
        ),
        migrations.CreateModel(
            name="Placement",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("market_id", models.CharField(max_length=200)),
                ("term", models.CharField(max_length=500)),
                ("niche_id", models.CharField(blank=True, max_length=500)),
                ("by_hand", models.BooleanField(default=True)),
            ],
            options={
                "constraints": [
                    models.UniqueConstraint(fields=("market_id", "term"), name="one_place_a_term")
                ],
            },
        ),
    ]
