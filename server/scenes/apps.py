from django.apps import AppConfig


class ScenesConfig(AppConfig):
    name = "scenes"

    def ready(self) -> None:
        from documents.kinds import register

        from .kinds import SCENE

        register(SCENE)
