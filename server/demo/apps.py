"""The demo data's app, which has only a command."""

from django.apps import AppConfig


class DemoConfig(AppConfig):
    name = "demo"
