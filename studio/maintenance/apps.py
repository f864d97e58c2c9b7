from importlib import import_module

from django.apps import AppConfig


class MaintenanceConfig(AppConfig):
    name = "studio.maintenance"
    label = "maintenance"

    def ready(self) -> None:
        """Registers this package's kinds of jobs."""
        import_module("studio.maintenance.runs")
