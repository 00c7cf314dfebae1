import django.contrib.postgres.indexes
from django.contrib.postgres.operations import TrigramExtension
from django.db import migrations, models


class Migration(migrations.Migration):
    initial = True
    dependencies = []
    operations = [
        TrigramExtension(),
        migrations.CreateModel(
            name="Filled",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("checksum", models.CharField(max_length=64)),
            ],
        ),
        migrations.CreateModel(
            name="Town",
            fields=[
                (
                    "id",
                    models.BigAutoField(auto_created=True, primary_key=True, serialize=False, verbose_name="ID"),
                ),
                ("name", models.CharField(max_length=120)),
                ("region", models.CharField(blank=True, max_length=120)),
                ("country", models.CharField(max_length=60)),
                ("latitude", models.FloatField()),
                ("longitude", models.FloatField()),
                ("people", models.PositiveIntegerField(default=0)),
                ("called", models.TextField()),
                ("lies", models.TextField(blank=True)),
            ],
            options={
                "ordering": ["-people", "pk"],
                "indexes": [
                    django.contrib.postgres.indexes.GinIndex(
                        fields=["called"], name="towns_by_name", opclasses=["gin_trgm_ops"]
                    ),
                    models.Index(fields=["-people", "id"], name="towns_by_people"),
                ],
            },
        ),
    ]
