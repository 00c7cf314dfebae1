"""Questions asked earlier, and the designs they were asked of, as documents of version 3 name their values."""

from typing import Any

from django.db import migrations

from heat.design.upgrade import current_path, stepped


RENAMED = {"missing": "unmet", "missing_kwh": "unmet_kwh"}


def _current(asked: Any) -> Any:
    """A question with every path and figure in it by its present name."""
    if isinstance(asked, dict):
        return {RENAMED.get(key, current_path(key)): _current(value) for key, value in asked.items()}
    if isinstance(asked, list):
        return [_current(one) for one in asked]
    return RENAMED.get(asked, current_path(asked)) if isinstance(asked, str) else asked


def bring_up(apps, schema_editor):
    Run = apps.get_model("runs", "Run")
    for run in Run.objects.all().iterator(100):
        run.question, run.document, run.best = _current(run.question), stepped(run.document), _current(run.best)
        run.save(update_fields=["question", "document", "best"])


class Migration(migrations.Migration):
    dependencies = [("runs", "0005_requested_by")]
    operations = [migrations.RunPython(bring_up, migrations.RunPython.noop)]
