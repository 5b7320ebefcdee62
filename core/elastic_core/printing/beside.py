"""Two prints side by side, frame by frame: two revisions of a scene, or a take and what became of it."""

import io
from collections.abc import Callable, Iterator
from contextlib import ExitStack, contextmanager
from dataclasses import dataclass
from fractions import Fraction
from pathlib import Path

from PIL import Image

from .press import BUILT_PAGE, Press, press_for
from .sheet import Printed

# Packed quickly: it is unpacked again at once.
_PACKING = 1


@dataclass(frozen=True)
class Beside:
    """Two presses as one painter. Where one of them has no more frames, its last one stays."""

    left: Press
    right: Press

    @property
    def size(self) -> tuple[int, int]:
        return self.left.size[0] + self.right.size[0], self.left.size[1]

    @property
    def rate(self) -> Fraction:
        return self.right.rate

    def frame(self, played: int) -> bytes:
        """Both pictures of a played frame, as one PNG. Raises Refusal as a press does."""
        both = [_picture(press, played) for press in (self.left, self.right)]
        whole = Image.new(both[0].mode, self.size)
        whole.paste(both[0], (0, 0))
        whole.paste(both[1], (self.left.size[0], 0))
        out = io.BytesIO()
        whole.save(out, "PNG", compress_level=_PACKING)
        return out.getvalue()


def _picture(press: Press, played: int) -> Image.Image:
    last = press.printed.scene.played_frames - 1
    with Image.open(io.BytesIO(press.frame(min(played, last)))) as image:
        return image.convert("RGBA" if press.printed.look.transparent else "RGB")


def half_of(width: int) -> int:
    """How wide each of two pictures is that fill a width together: an even number of pixels."""
    return max(16, width // 4 * 2)


@contextmanager
def press_beside(
    left: Printed, right: Printed, pictures: Callable[[str], bytes], page_folder: Path = BUILT_PAGE
) -> Iterator[Beside]:
    """A press for two prints. Raises Refusal as `press_for` does."""
    with ExitStack() as held:
        presses = [
            held.enter_context(press_for(one, pictures, page_folder)) for one in (left, right)
        ]
        yield Beside(*presses)
