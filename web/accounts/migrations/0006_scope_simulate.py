"""The scope of keys that simulate is called so."""

from django.db import migrations


def rename(apps, schema_editor):
    for token in apps.get_model("accounts", "Token").objects.all():
        if "reckon" in token.scopes:
            token.scopes = ["simulate" if scope == "reckon" else scope for scope in token.scopes]
            token.save(update_fields=["scopes"])


class Migration(migrations.Migration):
    dependencies = [("accounts", "0005_rate_counts")]
    operations = [migrations.RunPython(rename, migrations.RunPython.noop)]
