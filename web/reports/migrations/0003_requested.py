from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("reports", "0002_print_by_worker")]

    operations = [migrations.RenameField("Report", "asked", "requested")]
