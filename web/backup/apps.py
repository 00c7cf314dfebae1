from django.apps import AppConfig


class BackupConfig(AppConfig):
    name = "web.backup"
    label = "keeping"
