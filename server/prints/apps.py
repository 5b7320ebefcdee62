from django.apps import AppConfig


class PrintsConfig(AppConfig):
    name = "prints"

    def ready(self) -> None:
        from jobs.kinds import register

        from .printing import PRINT

        register(PRINT)
