"""How motion made for one skeleton fits a figure, as every sheet shows it (rule 2.4)."""

from documents.models import Document
from elastic_core.figure import Figure
from elastic_core.fit import Fit, Pair
from elastic_core.sides import spoken

from .schemas import FitView, JointName, PairView


def fit_view(owner: Document, skeleton: Figure, figure: Figure, report: Fit) -> FitView:
    """What plays, what is dropped and what rests. `owner` is the figure's document."""
    return FitView(
        figure=owner.pk,
        figure_name=owner.name,
        plays=[_pair(pair) for pair in report.plays],
        proposed=[_pair(pair) for pair in report.proposed],
        dropped=list(report.dropped),
        rests=list(report.rests),
        clip_joints=list(skeleton.names),
        figure_joints=[JointName(name=name, label=spoken(name)) for name in figure.names],
        leg_ratio=report.leg_ratio,
    )


def _pair(pair: Pair) -> PairView:
    return PairView(clip_joint=pair.clip_joint, figure_joint=pair.figure_joint)
