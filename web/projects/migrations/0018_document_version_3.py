"""Edits and comments at the paths that documents of version 3 have; documents themselves are brought up when read."""

import re

from django.db import migrations

from heat.design.upgrade import current_path, current_values



def bring_up(apps, schema_editor):
    Edit, Comment = apps.get_model("projects", "Edit"), apps.get_model("projects", "Comment")
    changed = []
    for edit in Edit.objects.all().iterator(1000):
        was = (edit.path, edit.before, edit.after)
        if edit.path:
            edit.path, edit.before = current_values({was[0]: was[1]}).popitem()
            edit.after = current_values({was[0]: was[2]})[edit.path]
        else:
            edit.before = current_values(was[1]) if isinstance(was[1], dict) else was[1]
            edit.after = current_values(was[2]) if isinstance(was[2], dict) else was[2]
        if (edit.path, edit.before, edit.after) != was:
            changed.append(edit)
    Edit.objects.bulk_update(changed, ["path", "before", "after"], batch_size=500)
    for comment in Comment.objects.all():
        kind, mark, path = comment.pin.partition(":")
        pin = f"{kind}:{current_path(path)}" if kind == "path" else comment.pin
        pin = {"part:reckoning": "part:numerics"}.get(pin, pin)
        where = re.sub(r"part=reckoning\b", "part=numerics", comment.where)
        if (pin, where) != (comment.pin, comment.where):
            Comment.objects.filter(pk=comment.pk).update(pin=pin, where=where)


class Migration(migrations.Migration):
    dependencies = [("projects", "0017_plain_names")]
    operations = [migrations.RunPython(bring_up, migrations.RunPython.noop, elidable=False)]
