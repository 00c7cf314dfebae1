"""The currency stands with the money of the survey; a sign that was kept beside it becomes a code."""

from django.db import migrations

CODES = {"$": "USD", "£": "GBP", "¥": "JPY"}


def move(apps, schema_editor):
    for project in apps.get_model("projects", "Project").objects.exclude(currency="€"):
        sign = project.currency.strip().upper()
        code = CODES.get(sign, sign if len(sign) == 3 and sign.isalpha() and sign.isascii() else "EUR")
        project.survey.setdefault("money", {})["currency"] = code
        project.save(update_fields=["survey"])


class Migration(migrations.Migration):
    dependencies = [("projects", "0012_deleted")]
    operations = [
        migrations.RunPython(move, migrations.RunPython.noop),
        migrations.RemoveField(model_name="project", name="currency"),
    ]
