import django.db.models.deletion
from django.conf import settings
from django.db import migrations, models
from django.db.models import OuterRef, Subquery


def give_to_owners(apps, schema_editor):
    """An address of before becomes the project owner's: whoever reads it goes on, as long as the owner sees it."""
    projects = apps.get_model("projects", "Project").objects.filter(pk=OuterRef("project"))
    apps.get_model("logs", "Calendar").objects.update(user=Subquery(projects.values("owner")[:1]))


class Migration(migrations.Migration):
    dependencies = [("logs", "0004_restrict"), migrations.swappable_dependency(settings.AUTH_USER_MODEL)]

    operations = [
        migrations.AlterField(
            "calendar", "project",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="calendars",
                              to="projects.project"),
        ),
        migrations.AddField(
            "calendar", "user",
            models.ForeignKey(null=True, on_delete=django.db.models.deletion.CASCADE, related_name="+",
                              to=settings.AUTH_USER_MODEL),
        ),
        migrations.RunPython(give_to_owners, migrations.RunPython.noop, elidable=True),
        migrations.AlterField(
            "calendar", "user",
            models.ForeignKey(on_delete=django.db.models.deletion.CASCADE, related_name="+",
                              to=settings.AUTH_USER_MODEL),
        ),
        migrations.AddConstraint(
            "calendar", models.UniqueConstraint(fields=["project", "user"], name="one_calendar_a_person")
        ),
    ]
