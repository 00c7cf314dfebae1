import django.db.models.deletion
from django.db import migrations, models


class Migration(migrations.Migration):
    dependencies = [("projects", "0016_people")]

    operations = [
        migrations.RenameModel("Remark", "Comment"),
        migrations.RenameModel("Happening", "AuditEvent"),
        migrations.AlterField(
            "Comment",
            "design",
            models.ForeignKey(
                null=True,
                on_delete=django.db.models.deletion.CASCADE,
                related_name="comments",
                to="projects.design",
            ),
        ),
        migrations.AlterField(
            "Comment",
            "project",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="comments", to="projects.project"
            ),
        ),
        migrations.AlterField(
            "AuditEvent",
            "project",
            models.ForeignKey(
                on_delete=django.db.models.deletion.CASCADE, related_name="events", to="projects.project"
            ),
        ),
    ]
