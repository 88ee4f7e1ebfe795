from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("work", "0001_initial")]

    operations = [migrations.RenameField("job", "said", "messages")]
