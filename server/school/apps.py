from django.apps import AppConfig


class SchoolConfig(AppConfig):
    name = "server.school"
    label = "school"
