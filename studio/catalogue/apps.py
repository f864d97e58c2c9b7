from django.apps import AppConfig


class CatalogueConfig(AppConfig):
    name = "studio.catalogue"
    label = "catalogue"
