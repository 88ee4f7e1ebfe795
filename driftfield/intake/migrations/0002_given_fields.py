from django.db import migrations

# Fields of rows under which an import keeps what the files say, since the researcher can change the niches.
RENAMED = {"Term": ("niche_id", "given_id"), "Niche": ("name", "given_name")}


def rename(apps, pairs):
    rows = apps.get_model("intake", "RowBefore").objects
    for table, (old, new) in pairs.items():
        changed = []
        for row in rows.filter(table=table).iterator():
            if old in row.fields:
                row.fields[new] = row.fields.pop(old)
                changed.append(row)
        rows.bulk_update(changed, ["fields"], batch_size=500)


def forwards(apps, schema_editor):
    rename(apps, RENAMED)


def backwards(apps, schema_editor):
    rename(apps, {table: (new, old) for table, (old, new) in RENAMED.items()})


class Migration(migrations.Migration):
    dependencies = [
        ("intake", "0001_initial"),
        ("market", "0003_own_niches"),
    ]

    operations = [migrations.RunPython(forwards, backwards)]
