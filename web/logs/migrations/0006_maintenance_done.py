from django.db import migrations


class Migration(migrations.Migration):
    dependencies = [("logs", "0005_calendar_of_a_person")]

    operations = [migrations.RenameModel("Done", "MaintenanceDone")]
