"""State graphs as Graphviz DOT and as GraphML, with lanes, order, conditions in words, and findings."""

from __future__ import annotations

import io
import json
from collections import defaultdict

import networkx

from leanstep.core.character.document import Character
from leanstep.core.character.graph import Layer, State
from leanstep.core.conditions.grammar import ConditionError, parse
from leanstep.core.conditions.printing import reading
from leanstep.core.findings.results import Finding, Report
from leanstep.core.formats.png import SAYS
from leanstep.core.formats.xml_text import legal
from leanstep.core.graph.compilation import compile_character
from leanstep.core.tick.table import unique

LOST = ("pictures", "the motion of the body", "takes")
"""What neither format holds."""


def graph_of(character: Character, report: Report | None = None) -> networkx.MultiDiGraph:
    """States as nodes (``LAYER.STATE``), transitions as edges in the order in which they are tried; those of a lane or of the whole
    graph lead from every state they are tried in.  Everything else is attributes: texts, numbers and flags."""
    found: dict[tuple[str, object], list[Finding]] = defaultdict(list)
    for finding in report.findings if report is not None else ():
        within = str(finding.details.get("layer", ""))
        for name in [*finding.details.get("states", ()), finding.details.get("state")]:
            found[within, name].append(finding)
        if "transition" in finding.details:
            found[within, finding.details["transition"]].append(finding)
    nodes = nodes_of(character)
    graph = networkx.MultiDiGraph(name=character.name, generator=SAYS, lost=", ".join(LOST))
    renamed = [
        f"{node}: state {state} of layer {layer}"
        for (layer, state), node in nodes.items()
        if node != f"{layer}.{state}"
    ]
    if renamed:
        graph.graph["renamed"] = "; ".join(renamed)
    machine = compile_character(character)
    for layer, table in zip(character.layers, machine.layers):
        for at, state in enumerate(layer.states):
            graph.add_node(
                nodes[layer.name, state.name], **_state(layer, state, at == table.start, found[layer.name, state.name])
            )
        for at, row in enumerate(table.ways):
            for order, way in enumerate(row):
                one = layer.transitions[way.index]
                graph.add_edge(
                    nodes[layer.name, layer.states[at].name],
                    nodes[layer.name, one.to],
                    order=order,
                    when=one.when,
                    reading=_reading(one.when),
                    urgent=one.urgent,
                    restart=one.restart,
                    fade=one.fade,
                    owner=one.source or (f"lane {one.from_lane}" if one.from_lane else "whole graph"),
                    transition=way.index,
                    findings=_told(found[layer.name, way.index]),
                )
    return graph


def nodes_of(character: Character) -> dict[tuple[str, str], str]:
    """The node of every state, by layer and name: ``LAYER.STATE`` as far as XML can hold it, with a number where two would be one."""
    made: dict[tuple[str, str], str] = {}
    for layer in character.layers:
        for state in layer.states:
            made[layer.name, state.name] = unique(legal(f"{layer.name}.{state.name}"), made.values())
    return made


def _state(layer: Layer, state: State, starts: bool, findings: list[Finding]) -> dict[str, object]:
    shows = f"blend {state.blend}" if state.blend else f"clip {state.clip}" if state.clip else ""
    return {
        "label": state.name,
        "layer": layer.name,
        "lane": state.lane,
        "start": starts,
        "restful": state.restful,
        "ending": state.ending,
        "shows": shows,
        "note": state.note,
        "findings": _told(findings),
    }


def _told(findings: list[Finding]) -> str:
    return "; ".join(f"{one.severity} {one.id}: {one.sentence}" for one in findings)


def _reading(text: str) -> str:
    try:
        return reading(parse(text))
    except ConditionError:
        return ""


def graphml(character: Character, report: Report | None = None) -> bytes:
    """The graph as GraphML."""
    out, graph = io.BytesIO(), graph_of(character, report)
    attributes = [
        graph.graph,
        *(one for _, one in graph.nodes(data=True)),
        *(one for _, _, one in graph.edges(data=True)),
    ]
    for one in attributes:
        one |= {key: legal(value) for key, value in one.items() if isinstance(value, str)}
    networkx.write_graphml(graph, out, encoding="utf-8", prettyprint=True, named_key_ids=True)
    return out.getvalue()


def dot(character: Character, report: Report | None = None) -> str:
    """The graph in the language of Graphviz: a cluster for each layer, with one for each of its lanes."""
    graph, nodes = graph_of(character, report), nodes_of(character)
    lines = [
        f"// {SAYS}: {character.name}".replace("\n", " "),
        f"// left out: {', '.join(LOST)}",
        f"digraph {_quoted(character.name)} {{",
        "  rankdir=LR;",
        '  node [shape=box, style=rounded, fontname="sans-serif"];',
        '  edge [fontname="sans-serif", fontsize=10];',
    ]
    for number, layer in enumerate(character.layers):
        lines += [f"  subgraph {_quoted(f'cluster_{number}')} {{", f"    label={_quoted(layer.name)};"]
        for at, lane in enumerate(layer.lane_names):
            lines.append(f"    subgraph {_quoted(f'cluster_{number}_{at}')} {{")
            lines.append(f"      label={_quoted(lane)}; style=dashed;")
            for state in layer.states:
                if state.lane == lane:
                    name = nodes[layer.name, state.name]
                    lines.append(f"      {_quoted(name)} [{_attributes(graph.nodes[name])}];")
            lines.append("    }")
        lines.append("  }")
    for source, target, values in graph.edges(data=True):
        label = f"{values['order'] + 1}. {values['when']}"
        lines.append(f"  {_quoted(source)} -> {_quoted(target)} [label={_quoted(label)}, {_attributes(values)}];")
    return "\n".join([*lines, "}", ""])


def _attributes(values: dict[str, object]) -> str:
    said = [(key, value) for key, value in values.items() if value not in ("", False)]
    return ", ".join(f"{key}={_quoted(_text(value))}" for key, value in said)


def _text(value: object) -> str:
    return "true" if value is True else f"{value:g}" if isinstance(value, float) else str(value)


def _quoted(text: str) -> str:
    return json.dumps(text, ensure_ascii=False)
