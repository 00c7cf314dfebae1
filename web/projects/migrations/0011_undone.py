from django.db import migrations, models


def count_undone(apps, _schema_editor):
    """Edits that can be made again, counted from those kept."""
    edits = apps.get_model("projects", "Edit").objects.filter(dropped=False, place__gt=models.F("project__cursor"))
    for row in edits.values("project").annotate(count=models.Count("pk")):
        apps.get_model("projects", "Project").objects.filter(pk=row["project"]).update(undone=row["count"])


class Migration(migrations.Migration):
    dependencies = [("projects", "0010_small_figures")]

    operations = [
        migrations.AddField(
            model_name="project", name="undone", field=models.PositiveIntegerField(default=0)
        ),
        migrations.RunPython(count_undone, migrations.RunPython.noop),
    ]
