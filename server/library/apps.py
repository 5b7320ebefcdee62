from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "library"

    def ready(self) -> None:
        from documents.kinds import register

        from .kinds import CLIP, FIGURE

        register(FIGURE)
        register(CLIP)
