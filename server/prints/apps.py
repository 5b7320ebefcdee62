from django.apps import AppConfig


class PrintsConfig(AppConfig):
    name = "prints"

    def ready(self) -> None:
        from jobs.kinds import register

        from .printing import PRINT_SCENE

        register(PRINT_SCENE)
