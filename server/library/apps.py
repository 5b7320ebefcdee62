from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "library"

    def ready(self) -> None:
        from documents.kinds import register
        from jobs.kinds import register as register_job

        from .bringing_in import BRING_IN
        from .kinds import CLIP, FIGURE, SOUND
        from .reading import READ_MOTION
        from .sounds import BRING_IN_SOUND

        register(FIGURE)
        register(CLIP)
        register(SOUND)
        register_job(READ_MOTION)
        register_job(BRING_IN)
        register_job(BRING_IN_SOUND)
