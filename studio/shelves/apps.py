from importlib import import_module

from django.apps import AppConfig


class ShelvesConfig(AppConfig):
    name = "studio.shelves"
    label = "shelves"

    def ready(self) -> None:
        """Registers this package's kinds of jobs."""
        import_module("studio.shelves.piece_files")
