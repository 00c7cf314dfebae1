"""Documents kept before a field existed gain it with its default."""

from typing import Any

from django.db import migrations

from heat.design import parse
from heat.errors import HeatError

PARTS = ("demand", "site", "plane", "system", "reckoning")


def complete(apps: Any, schema_editor: Any) -> None:
    for design in apps.get_model("projects", "Design").objects.select_related("project"):
        stored = {**design.project.survey, **design.scheme}
        try:
            whole = parse({"version": 1, **{part: stored[part] for part in PARTS}}).model_dump(mode="json")
        except HeatError:
            continue
        design.project.survey = {part: whole[part] for part in ("demand", "site")}
        design.scheme = {part: whole[part] for part in ("version", "plane", "system", "numerics")}
        design.project.save(update_fields=["survey"])
        design.save(update_fields=["scheme"])
    for version in apps.get_model("projects", "Version").objects.all():
        try:
            version.document = parse(version.document).model_dump(mode="json")
        except HeatError:
            continue
        version.save(update_fields=["document"])


class Migration(migrations.Migration):
    dependencies = [("projects", "0003_survey")]
    operations = [migrations.RunPython(complete, migrations.RunPython.noop)]
