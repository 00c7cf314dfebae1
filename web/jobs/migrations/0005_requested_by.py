from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("runs", "0004_turns")]

    operations = [
        migrations.RemoveIndex("Run", "run_served"),
        migrations.RenameField("Run", "asked_by", "requested_by"),
        migrations.AddIndex("Run", models.Index(fields=["requested_by", "served"], name="run_served")),
    ]
