from django.apps import AppConfig


class StorageConfig(AppConfig):
    """Its label is the one its tables were made under, which sessions and grooves share."""

    name = "studio.storage"
    label = "library"
