from django.apps import AppConfig


class ShelvesConfig(AppConfig):
    name = "studio.shelves"
    label = "shelves"
