"""An animator's hands on the bench, and a count of what they do."""

import json
import math
import re
from dataclasses import dataclass, field
from typing import Any

import numpy as np
from playwright.sync_api import APIResponse, Page, expect

from .desk import Desk

EYE_HEIGHT, LENS = 0.86, 2.05


@dataclass
class Bench:
    """The bench with one clip on it; every deed is counted."""

    desk: Desk
    deeds: list[str] = field(default_factory=list)

    @property
    def page(self) -> Page:
        return self.desk.page

    def open(self, clip: str) -> None:
        self.desk.open("clips", clip)
        self.ready()

    def ready(self) -> None:
        expect(self.page.get_by_label(re.compile("^Key sheet"))).to_be_visible()
        expect(self.page.locator(".stage-canvas[data-figures='1']")).to_be_visible()

    @property
    def id(self) -> str:
        return self.page.url.rsplit("/", 1)[-1]

    def view(self) -> dict[str, Any]:
        """The clip as the server has it."""
        found: dict[str, Any] = self.page.request.get(
            f"{self.desk.address}/api/clips/{self.id}"
        ).json()
        return found

    def ask(self, what: str, body: dict[str, Any]) -> APIResponse:
        """A question about the clip, asked of the server as the page does."""
        csrf = self.page.request.get(f"{self.desk.address}/api/session").json()["csrf"]
        return self.page.request.post(
            f"{self.desk.address}/api/clips/{self.id}/{what}",
            headers={"X-CSRFToken": csrf},
            data=body,
        )

    def poses(self, start: int, end: int) -> bytes:
        """A frame pack of the saved clip."""
        return self.ask("poses", {"start": start, "end": end}).body()

    def curve(self, channel: str) -> dict[str, Any]:
        """A saved curve."""
        curves: list[dict[str, Any]] = self.view()["bench"]["curves"]
        return next(curve for curve in curves if curve["channel"] == channel)

    def copy_of(self, clip: str) -> None:
        """A copy to do with as one likes, on the bench."""
        self.desk.copy_of("clips", clip)
        self.ready()

    def does(self, what: str) -> None:
        self.deeds.append(what)

    def press(self, keys: str) -> None:
        self.does(f"press {keys}")
        self.page.keyboard.press(keys)

    def click(self, name: str, role: Any = "button", *, exact: bool = True) -> None:
        self.does(f"click {name}")
        self.page.get_by_role(role, name=name, exact=exact).click()

    def choose(self, joint: str) -> None:
        self.does(f"choose {joint}")
        self.page.locator(".joint-list button").filter(
            has=self.page.get_by_text(joint, exact=True)
        ).click()

    def write(self, label: str, value: float) -> None:
        self.does(f"write {label} {value:g}")
        box = self.page.get_by_label(label, exact=True)
        box.fill(str(value))
        box.press("Enter")

    def go_to(self, frame: int) -> None:
        """On the ruler."""
        self.does(f"go to {frame}")
        ruler = self.page.locator(".key-sheet .ruler")
        box = ruler.bounding_box()
        assert box
        length = self.view()["bench"]["length_frames"]
        left, right = 158.0, box["width"] - 18
        each = min(40.0, (right - left) / (length + self.view()["bench"]["is_cycle"]))
        ruler.click(position={"x": left + (frame + 0.5) * each, "y": 10})
        assert self.desk.frame() == frame

    def where(self, joint: str, frame: int) -> tuple[float, float, float]:
        """A joint of the saved pose on the page, in Side view; and the pixels of a metre there."""
        names = [row["name"] for row in self.view()["bench"]["joints"]]
        placed = array_in(self.poses(frame, frame + 1), "positions")[0]
        x, y, z = placed[names.index(joint)]
        box = self.page.locator(".stage-canvas").bounding_box()
        assert box
        return on_page(np.array([x, y, z]), box, distance=5.4)

    def draw(self, joint: str, frame: int, metres: tuple[float, float], up: float = 0.0) -> None:
        """Draw a joint ahead and up, in Side view; `up` is how far the loose pose lies above."""
        self.does(f"draw {joint}")
        x, y, scale = self.where(joint, frame)
        y -= up * scale
        self.desk.draw((x, y), (x + metres[0] * scale, y - metres[1] * scale))
        self.desk.still()

    def saved(self, label: str) -> None:
        """Wait until the last step is this one."""
        undo = self.page.get_by_role("button", name=f"Undo: {label} (Ctrl+Z)", exact=True)
        expect(undo).to_be_visible()


def array_in(pack: bytes, name: str) -> np.ndarray:
    """An array of the figure in a frame pack."""
    length = int.from_bytes(pack[:8], "little")
    entry = json.loads(pack[8 : 8 + length])[f"figure/{name}"]
    start, end = (8 + length + offset for offset in entry["data_offsets"])
    found: np.ndarray = np.frombuffer(pack[start:end], dtype="<f4").reshape(entry["shape"])
    return found


def on_page(
    point: np.ndarray, box: dict[str, float] | Any, distance: float
) -> tuple[float, float, float]:
    """The camera of the Side view, worked out anew: yaw −90°, pitch 3°."""
    yaw, pitch = math.radians(-90), math.radians(3)
    back = np.array(
        [math.sin(yaw) * math.cos(pitch), math.sin(pitch), math.cos(yaw) * math.cos(pitch)]
    )
    target = np.array([0.0, EYE_HEIGHT, 0.0])
    eye = target + back * distance
    up = np.array(
        [-math.sin(yaw) * math.sin(pitch), math.cos(pitch), -math.cos(yaw) * math.sin(pitch)]
    )
    forward = -back
    right = np.cross(forward, up)
    right /= np.linalg.norm(right)
    up = np.cross(right, forward)
    away = point - eye
    scale = box["height"] * LENS / float(away @ forward)
    x = box["x"] + box["width"] / 2 + float(away @ right) * scale
    y = box["y"] + box["height"] * 0.52 - float(away @ up) * scale
    return x, y, scale
