"""Documents kept before designs remembered their catalogue entries gain an empty list of them."""

from typing import Any

from django.db import migrations


def complete(apps: Any, schema_editor: Any) -> None:
    for design in apps.get_model("projects", "Design").objects.all():
        design.scheme["system"].setdefault("used", [])
        design.save(update_fields=["scheme"])
    for version in apps.get_model("projects", "Version").objects.all():
        version.document["system"].setdefault("used", [])
        version.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("projects", "0005_variants")]
    operations = [migrations.RunPython(complete, migrations.RunPython.noop)]
