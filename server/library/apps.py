from django.apps import AppConfig


class LibraryConfig(AppConfig):
    name = "library"

    def ready(self) -> None:
        from documents.kinds import register
        from jobs.kinds import register as register_job

        from .bringing_in import BRING_IN
        from .clips_of_takes import RUN_RECIPE
        from .cut_outs import CUT_OUT
        from .drawings import BRING_IN_DRAWINGS, DRAWINGS, RUN
        from .kinds import CLIP, FIGURE, SOUND
        from .lines import CHART, LINE, READ_LINE
        from .reading import READ_MOTION
        from .recording import RECORD
        from .sounds import BRING_IN_SOUND
        from .takes import RECIPE, TAKE
        from .taking_in import TAKE_IN

        register(FIGURE)
        register(CLIP)
        register(SOUND)
        register(TAKE)
        register(RECIPE)
        register(CHART)
        register(LINE)
        register(DRAWINGS)
        register(RUN)
        register(CUT_OUT)
        register_job(READ_MOTION)
        register_job(BRING_IN)
        register_job(BRING_IN_SOUND)
        register_job(TAKE_IN)
        register_job(RUN_RECIPE)
        register_job(RECORD)
        register_job(READ_LINE)
        register_job(BRING_IN_DRAWINGS)
