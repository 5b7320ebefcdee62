"""How counts and joints are said in labels and sentences."""

from .figure import Figure
from .sides import spoken


def counted(count: int, thing: str) -> str:
    """“1 key”, “3 keys”."""
    return f"{count:,} {thing}{'' if count == 1 else 's'}"


def said(figure: Figure, names: list[str]) -> str:
    """A few joints by name, many by number."""
    joints = list(dict.fromkeys(names))
    if len(joints) == len(figure.joints):
        return "the whole figure"
    if len(joints) > 2:
        return counted(len(joints), "joint")
    return " and ".join(spoken(name) for name in joints)
