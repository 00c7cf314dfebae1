"""Static files under names with their hash; modules import each other by those names too."""

from whitenoise.storage import CompressedManifestStaticFilesStorage


class ModuleStorage(CompressedManifestStaticFilesStorage):  # type: ignore[misc]
    support_js_module_import_aggregation = True
