from django.apps import AppConfig


class ScenesConfig(AppConfig):
    name = "scenes"

    def ready(self) -> None:
        from documents.kinds import register
        from jobs.kinds import register as register_job

        from .kinds import SCENE
        from .opening_files import OPEN_FILE

        register(SCENE)
        register_job(OPEN_FILE)
