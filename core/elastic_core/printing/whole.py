"""Files that are written whole, or not at all."""

from collections.abc import Iterator
from contextlib import contextmanager
from pathlib import Path

import av

from ..errors import Refusal


def check_folder(path: Path) -> None:
    """Raises Refusal where there is no folder to write a file in: before anything is painted."""
    if not path.parent.is_dir():
        raise Refusal(f"{path.name} cannot be written: there is no folder {path.parent}.")


@contextmanager
def written_whole(path: Path) -> Iterator[None]:
    """What is written at a path is finished in here, or goes.

    Raises Refusal where it cannot be written: where there is no such folder at once.
    """
    check_folder(path)
    is_whole = False
    try:
        yield
        is_whole = True
    except (OSError, av.FFmpegError) as problem:
        raise Refusal(f"{path.name} cannot be written: {problem.strerror or problem}.") from None
    finally:
        if not is_whole and path.is_file():
            path.unlink()
