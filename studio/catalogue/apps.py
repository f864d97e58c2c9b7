from importlib import import_module

from django.apps import AppConfig


class CatalogueConfig(AppConfig):
    name = "studio.catalogue"
    label = "catalogue"

    def ready(self) -> None:
        """Registers this package's kinds of jobs."""
        import_module("studio.catalogue.previews")
