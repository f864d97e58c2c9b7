from django.apps import AppConfig


class MaintenanceConfig(AppConfig):
    name = "studio.maintenance"
    label = "maintenance"
