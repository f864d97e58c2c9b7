from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "studio.library"
    label = "library"
