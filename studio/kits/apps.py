from importlib import import_module

from django.apps import AppConfig


class KitsConfig(AppConfig):
    name = "studio.kits"
    label = "kits"

    def ready(self) -> None:
        """Registers this package's kinds of jobs."""
        import_module("studio.kits.kit_files")
        import_module("studio.kits.exports")
        import_module("studio.kits.line_checks")
        import_module("studio.kits.loudness")
