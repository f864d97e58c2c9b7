from importlib import import_module

from django.apps import AppConfig


class SessionsConfig(AppConfig):
    """Its tables are labelled `library`, as they were first made; its own label only has to differ from other apps'."""

    name = "studio.sessions"
    label = "recording_sessions"

    def ready(self) -> None:
        """Registers this package's kinds of jobs, and their sentence for damaged recordings."""
        import_module("studio.sessions.damage")
        import_module("studio.sessions.work")
