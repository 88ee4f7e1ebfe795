"""Lead offers: each curve kept the list of all sellers, and its numbers were places in it. Now a seller has
one number for all curves."""

import numpy as np
from django.db import migrations, models


def number_sellers(apps, schema_editor):
    Curve = apps.get_model("market", "ListingCurve")
    LeadSeller = apps.get_model("market", "LeadSeller")
    numbers = {}
    for curve in Curve.objects.exclude(lead_sellers=None).iterator():
        values = np.frombuffer(bytes(curve.values), "<f4").copy()
        for place in np.unique(values[~np.isnan(values)]).astype(int).tolist():
            name = curve.lead_sellers[place]
            if name not in numbers:
                numbers[name] = LeadSeller.objects.create(seller_id=name).pk
        known = ~np.isnan(values)
        values[known] = [numbers[curve.lead_sellers[int(v)]] for v in values[known]]
        curve.values = values.tobytes()
        curve.save(update_fields=["values"])


class Migration(migrations.Migration):

    dependencies = [
        ("market", "0001_initial"),
    ]

    operations = [
        migrations.CreateModel(
            name="LeadSeller",
            fields=[
                ("id", models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID")),
                ("seller_id", models.CharField(max_length=200, unique=True)),
            ],
        ),
        migrations.RunPython(number_sellers, migrations.RunPython.noop),
        migrations.RemoveField(model_name="listingcurve", name="lead_sellers"),
    ]
