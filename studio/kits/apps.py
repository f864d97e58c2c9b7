from django.apps import AppConfig


class KitsConfig(AppConfig):
    name = "studio.kits"
    label = "kits"
