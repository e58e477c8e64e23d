"""A check as JUnit XML, as build servers read it: every kind of finding and every take is one case."""

from __future__ import annotations

import xml.etree.ElementTree as ElementTree
from collections.abc import Iterable

from leanstep.core.character.document import Character
from leanstep.core.findings.results import SEVERITIES, Finding, Report
from leanstep.core.formats.xml_text import legal
from leanstep.core.rehearsal.coverage import Coverage


def junit(
    runs: Iterable[tuple[str, Character, Report]], fails: str = "error", refused: Iterable[tuple[str, str]] = ()
) -> str:
    """The suites of some files, each with its address.  What is at least as bad as ``fails`` (error, warning or note) is a failure,
    and so is a take that does not do what it expects; what is less bad stands in the output of a case that passes.  A search that
    left something open is a case that was skipped, a file that was ``refused`` for a reason one with an error."""
    whole = ElementTree.Element("testsuites", name="Lean Step")
    for uri, sentence in refused:
        suite = ElementTree.SubElement(
            whole, "testsuite", name=legal(uri), tests="1", failures="0", errors="1", skipped="0"
        )
        case = ElementTree.SubElement(suite, "testcase", classname=legal(f"{uri}.checks"), name="it can be checked")
        ElementTree.SubElement(case, "error", type="refused", message=legal(sentence)).text = legal(sentence)
    for uri, character, report in runs:
        _suite(whole, uri, character, report, SEVERITIES.index(fails))
    return _written(whole)


def coverage_junit(uri: str, covered: Coverage, least: float) -> str:
    """What the takes of a file cover as a suite: a case for each kind of thing, whose output names what is left out, and one that
    fails where less than ``least`` percent are covered."""
    whole = ElementTree.Element("testsuites", name="Lean Step")
    suite = ElementTree.SubElement(whole, "testsuite", name=legal(uri))
    left = missing = legal("\n".join(covered.missing()))
    for kind, (done, of) in covered.counted.items():
        case = ElementTree.SubElement(
            suite, "testcase", classname=legal(f"{uri}.coverage"), name=f"{done} of {of} {kind}"
        )
        if done < of and missing:
            ElementTree.SubElement(case, "system-out").text = missing
            missing = ""
    share = ElementTree.SubElement(suite, "testcase", classname=legal(f"{uri}.coverage"), name=f"at least {least:g} %")
    fails = covered.percent < least
    if fails:
        said = f"{covered.percent:.1f} % are covered, and {least:g} % are asked."
        ElementTree.SubElement(share, "failure", type="coverage", message=said).text = left
    for name, count in (("tests", len(covered.counted) + 1), ("failures", int(fails)), ("errors", 0), ("skipped", 0)):
        suite.set(name, str(count))
    return _written(whole)


def _written(whole: ElementTree.Element) -> str:
    ElementTree.indent(whole)
    return '<?xml version="1.0" encoding="utf-8"?>\n' + ElementTree.tostring(whole, encoding="unicode") + "\n"


def _suite(whole: ElementTree.Element, uri: str, character: Character, report: Report, worst: int) -> None:
    suite = ElementTree.SubElement(whole, "testsuite", name=legal(uri), time=f"{report.seconds:.3f}")
    takes: dict[str, list[Finding]] = {take.name: [] for take in character.takes}
    kinds: dict[str, list[Finding]] = {}
    for finding in report.findings:
        name = finding.details.get("take")
        (takes[name] if name in takes else kinds.setdefault(finding.id, [])).append(finding)
    cases = [_case(suite, uri, "checks", kind, found, worst) for kind, found in kinds.items()]
    cases += [_case(suite, uri, "takes", name, found, worst) for name, found in takes.items()]
    whole_check = ElementTree.SubElement(
        suite, "testcase", classname=legal(f"{uri}.checks"), name="everything was decided"
    )
    if not report.complete:
        ElementTree.SubElement(whole_check, "skipped", message=legal(report.aborted))
    suite.set("tests", str(len(cases) + 1))
    suite.set("failures", str(sum(cases)))
    suite.set("errors", "0")
    suite.set("skipped", "0" if report.complete else "1")


def _case(suite: ElementTree.Element, uri: str, group: str, name: str, found: list[Finding], worst: int) -> bool:
    """One case; whether it fails."""
    case = ElementTree.SubElement(suite, "testcase", classname=legal(f"{uri}.{group}"), name=legal(name))
    broken = group == "takes"
    bad = [
        one for one in found if SEVERITIES.index(one.severity) <= worst or (broken and one.id == "expectation.broken")
    ]
    if bad:
        failure = ElementTree.SubElement(case, "failure", type=bad[0].severity, message=legal(bad[0].sentence))
        failure.text = legal("\n\n".join(f"{one.id}: {one.sentence}\n{one.why}".strip() for one in bad))
    rest = [one for one in found if one not in bad]
    if rest:
        ElementTree.SubElement(case, "system-out").text = legal(
            "\n".join(f"{one.severity} {one.id}: {one.sentence}" for one in rest)
        )
    return bool(bad)
