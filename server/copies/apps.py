from django.apps import AppConfig


class CopiesConfig(AppConfig):
    name = "copies"

    def ready(self) -> None:
        from jobs.nights import each_night

        from .nightly import tonight

        each_night(tonight)
