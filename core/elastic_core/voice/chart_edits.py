"""Edits of a mouth chart: named operations, chart in → chart out (rule 8.1)."""

from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

from pydantic import BaseModel, ConfigDict, Field

from ..errors import Refusal, refusing
from ..frozen import Frozen
from .chart import ChartSide, FacePlace, Mouth, MouthChart, MouthKey


class ChartChange(Frozen):
    model_config = ConfigDict(extra="forbid")


class SetMouth(ChartChange):
    """One mouth, by its key: its name, drawing and phones; a new one where the chart lacks the key. A phone
    that it takes is taken from the others of its size."""

    kind: Literal["set_mouth"] = "set_mouth"
    mouth: Mouth


class DropMouth(ChartChange):
    """A mouth taken out: others stand in for it."""

    kind: Literal["drop_mouth"] = "drop_mouth"
    key: MouthKey


class PlaceChart(ChartChange):
    """Where on the figure the mouths stand."""

    kind: Literal["place_chart"] = "place_chart"
    place: FacePlace


class ViewChart(ChartChange):
    """From where the chart is seen."""

    kind: Literal["view_chart"] = "view_chart"
    view: ChartSide


ChartEdit = Annotated[SetMouth | DropMouth | PlaceChart | ViewChart, Field(discriminator="kind")]


@dataclass(frozen=True)
class ChartEdited:
    """A chart after an edit, what the edit is called, and what it has to say."""

    chart: MouthChart
    label: str
    notes: tuple[str, ...] = ()


def edit_chart(chart: MouthChart, edit: ChartEdit) -> ChartEdited:
    """Do it. Raises Refusal for what cannot be done."""
    with refusing():
        edited = _RULES[type(edit)](chart, edit)
        edited.chart.checked()
    return edited


def _set_mouth(chart: MouthChart, edit: SetMouth) -> ChartEdited:
    mouth = edit.mouth
    taken = set(mouth.phones)
    others = [
        other
        if other.size != mouth.size
        else other.model_copy(
            update={"phones": tuple(phone for phone in other.phones if phone not in taken)}
        )
        for other in chart.mouths
    ]
    keys = [other.key for other in others]
    if mouth.key in keys:
        others[keys.index(mouth.key)] = mouth
        label = f"Change {mouth.name}"
    else:
        others.append(mouth)
        label = f"Add {mouth.name}"
    changed = _with(chart, mouths=tuple(others))
    return ChartEdited(changed, label, _told(changed))


def _drop_mouth(chart: MouthChart, edit: DropMouth) -> ChartEdited:
    gone = chart.mouth(edit.key)
    if len(chart.mouths) == 1:
        raise Refusal("A chart has at least one mouth.")
    left = _with(chart, mouths=tuple(m for m in chart.mouths if m.key != edit.key))
    return ChartEdited(left, f"Take out {gone.name}", _told(left))


def _place(chart: MouthChart, edit: PlaceChart) -> ChartEdited:
    return ChartEdited(_with(chart, place=edit.place), "Place the mouths")


def _view(chart: MouthChart, edit: ViewChart) -> ChartEdited:
    return ChartEdited(_with(chart, view=edit.view), "Change the chart's view")


def _told(chart: MouthChart) -> tuple[str, ...]:
    """Which mouths stand in for sounds that have none."""
    by_mouth: dict[str, list[str]] = {}
    for phone, key in chart.stood_in.items():
        by_mouth.setdefault(key, []).append(phone)
    return tuple(
        f"{chart.by_key[key].name} stands in for {', '.join(phones)}."
        for key, phones in by_mouth.items()
    )


def _with(chart: MouthChart, **changes: Any) -> MouthChart:
    return chart.model_copy(update=changes)


_RULES: dict[type[BaseModel], Callable[[MouthChart, Any], ChartEdited]] = {
    SetMouth: _set_mouth,
    DropMouth: _drop_mouth,
    PlaceChart: _place,
    ViewChart: _view,
}
