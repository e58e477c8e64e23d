"""The Graph station: states in lanes, and when one gives way to another."""

from leanstep.desk.stations.graph.station import GraphStation
from leanstep.desk.stations.station import Specification, count_of

STATION = Specification(
    name="Graph",
    purpose="Arrange states and say when one gives way to another",
    make=GraphStation,
    handed_on=lambda session: count_of(sum(len(layer.states) for layer in session.document.layers), "state"),
    subjects=(
        "state",
        "states",
        "transition",
        "parameter",
        "lock",
        "layer",
        "assumption",
        "assumptions",
        "squash",
        "lean",
    ),
    kinds=("state", "transition", "parameter", "button", "stick", "squash", "lean", "pattern"),
)
