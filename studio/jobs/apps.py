from importlib import import_module

from django.apps import AppConfig


class JobsConfig(AppConfig):
    name = "studio.jobs"
    label = "jobs"

    def ready(self) -> None:
        """Let every kind of work name itself."""
        import_module("studio.jobs.work")
        import_module("studio.jobs.exports")
        import_module("studio.jobs.lines")
        import_module("studio.kits.loudness")
        import_module("studio.catalogue.previews")
        import_module("studio.maintenance.runs")
