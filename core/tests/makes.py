"""BVH files as three other makers write them; the people in them are made up."""

from collections.abc import Sequence

import numpy as np

Part = tuple[str, str | None, tuple[float, float, float], bool]


def _person(prefix: str, fingers: int, extra: int) -> list[Part]:
    """(name, parent, offset in metres, ends there)."""
    parts: list[Part] = [("Hips", None, (0, 0.95, 0), False)]
    parts += [
        ("Spine", "Hips", (0, 0.1, 0), False),
        ("Chest", "Spine", (0, 0.16, 0), False),
        ("Neck", "Chest", (0, 0.24, 0), False),
        ("Head", "Neck", (0, 0.1, 0), extra == 0),
    ]
    for side, sign in (("Left", 1), ("Right", -1)):
        parts += [
            (f"{side}Arm", "Chest", (sign * 0.18, 0.2, 0), False),
            (f"{side}ForeArm", f"{side}Arm", (sign * 0.28, 0, 0), False),
            (f"{side}Hand", f"{side}ForeArm", (sign * 0.25, 0, 0), fingers == 0),
            (f"{side}UpLeg", "Hips", (sign * 0.1, -0.03, 0), False),
            (f"{side}Leg", f"{side}UpLeg", (0, -0.43, 0), False),
            (f"{side}Foot", f"{side}Leg", (0, -0.42, 0), False),
            (f"{side}Toe", f"{side}Foot", (0, -0.06, 0.14), True),
        ]
        for finger in range(fingers):
            above = f"{side}Hand"
            for bone in range(3):
                name = f"{side}Finger{finger}{bone}"
                reach = (
                    sign * (0.08 if bone == 0 else 0.03),
                    0.0,
                    0.025 * (finger - 2) * (bone == 0),
                )
                parts.append((name, above, reach, bone == 2))
                above = name
    for k in range(extra):
        parts.append((f"Hat{k}", "Head", (0.01 * k, 0.1, 0), True))
    return [(prefix + n, p and prefix + p, offset, ends) for n, p, offset, ends in parts]


def _file(
    parts: Sequence[Part],
    frames: int,
    frame_time: str,
    order: str,
    scale: float,
    separator: str = " ",
    line_end: str = "\n",
) -> bytes:
    """One second's walk, repeated over the frames; the last frame repeats the first of a second."""
    lines = ["HIERARCHY"]
    names: list[str] = []

    def write(part: Part, depth: int) -> None:
        name, parent, offset, ends = part
        names.append(name)
        tab = "\t" * depth
        lines.extend([f"{tab}{'JOINT' if parent else 'ROOT'} {name}", tab + "{"])
        numbers = separator.join(f"{value * scale:.5f}" for value in offset)
        lines.append(f"{tab}\tOFFSET{separator}{numbers}")
        channels = [f"{axis}rotation" for axis in order]
        if parent is None:
            channels = ["Xposition", "Yposition", "Zposition", *channels]
        count = str(len(channels))
        lines.append(f"{tab}\tCHANNELS{separator}" + separator.join([count, *channels]))
        for child in parts:
            if child[1] == name:
                write(child, depth + 1)
        if ends:
            tip = separator.join(["OFFSET", "0", f"{0.06 * scale:.5f}", "0"])
            lines.extend([f"{tab}\tEnd Site", tab + "\t{", f"{tab}\t\t{tip}", tab + "\t}"])
        lines.append(tab + "}")

    write(parts[0], 0)
    rate = 1 / float(frame_time)
    phase = 2 * np.pi * np.arange(frames) / round(rate)
    columns = [
        0.02 * scale * np.sin(phase),
        (0.95 + 0.02 * np.cos(2 * phase)) * scale,
        1.2 * scale * np.arange(frames) / rate,
    ]
    for name in names:
        side = 1 if "Left" in name else -1 if "Right" in name else 0
        swing = 28 if "UpLeg" in name else 14 if "Leg" in name else 9 if "Arm" in name else 1.5
        for axis in order:
            columns.append((swing * side if axis == "X" else 0.7) * np.sin(phase))
    lines += ["MOTION", f"Frames:{separator}{frames}", f"Frame Time:{separator}{frame_time}"]
    rows = np.stack(columns, axis=-1)
    lines += [separator.join(f"{value:.5f}" for value in row) for row in rows]
    return (line_end.join(lines) + line_end).encode()


def slow_make() -> bytes:
    """31 joints at 120 fps, in a unit of its own."""
    return _file(_person("", 2, 0), 241, "0.0083333", "ZYX", 17.0)


def tabs_make() -> bytes:
    """19 joints at 30 fps, tabs and CRLF, centimetres."""
    return _file(_person("", 0, 0), 31, "0.0333333", "ZXY", 100.0, "\t", "\r\n")


def long_take(frames: int) -> bytes:
    """So many frames of 55 joints at 60 fps: some 1.4 kB each."""
    return _file(_person("rig:", 5, 6), frames, "0.0166667", "XYZ", 100.0)


def colons_make() -> bytes:
    """55 joints with colons in their names, 60 fps."""
    return long_take(90)
