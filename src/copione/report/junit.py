"""A run as JUnit XML: a suite a take, a case a step. Differing checks are failures, stuck steps errors, unreached ones skipped."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence
from pathlib import Path

from lxml import etree

from ..comparison.causes import FindingKind
from ..comparison.lanes import Lanes
from ..comparison.standing import Assessed
from ..files.places import Place
from ..model.outcome import Outcome
from ..project.archive import picture_path

TAGS = {Outcome.DIFFERS: "failure", Outcome.STUCK: "error", Outcome.UNREACHED: "skipped", Outcome.SKIPPED: "skipped"}
_KINDS = {FindingKind.STUCK: "error", FindingKind.DIFFERS: "failure"}
_BAD = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def clean(words: str) -> str:
    """Without the characters that XML cannot hold; devices may show any."""
    return _BAD.sub("\ufffd", words)


def junit(lanes: Lanes, script: str, covers: Sequence[str] = (), known: Assessed | None = None) -> bytes:
    """The document, UTF-8. `covers`: test cases elsewhere that the script is about; `known`: the findings, as a suite of their own.

    Pictures are attached as `[[ATTACHMENT|path]]` in a case's output, as servers for continuous integration read it.
    """
    root = etree.Element("testsuites", name=clean(script))
    for lane in lanes.lanes:
        results = sorted(lane.results(), key=lambda r: r.address)
        count = Counter(r.outcome for r in results)
        suite = etree.SubElement(
            root,
            "testsuite",
            name=clean(f"{script} on {lane.device.name}, row {lane.row}"),
            tests=str(len(results)),
            failures=str(count[Outcome.DIFFERS]),
            errors=str(count[Outcome.STUCK]),
            skipped=str(count[Outcome.UNREACHED] + count[Outcome.SKIPPED]),
            time=f"{lane.seconds:.3f}",
        )
        if covers:
            properties = etree.SubElement(suite, "properties")
            for case_elsewhere in covers:
                etree.SubElement(properties, "property", name="covers", value=clean(case_elsewhere))
        for result in results:
            case = etree.SubElement(
                suite,
                "testcase",
                classname=clean(f"{script}.{lane.device.name}"),
                name=clean(f"{result.number:03d} {result.step}"),
                time=f"{result.seconds:.3f}",
            )
            tag = TAGS.get(result.outcome)
            if tag:
                said = etree.SubElement(case, tag, message=clean(result.reason))
                if tag != "skipped":
                    said.set("type", result.outcome.value)
            said_out = [f"adapted: {result.reason}"] if result.outcome is Outcome.ADAPTED else []
            picture = result.before or result.after
            if picture and lane.folder is not None and result.outcome.bad:
                said_out.append(f"[[ATTACHMENT|{_said(picture_path(lane.folder, picture))}]]")
            if said_out:
                etree.SubElement(case, "system-out").text = clean("\n".join(said_out))
    if known is not None and known.standing:
        _findings(root, script, known)
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))


def _said(place: Place) -> str:
    """Where a picture is, for whoever reads the file somewhere else."""
    return str(place.absolute() if isinstance(place, Path) else place)


def _findings(root: etree._Element, script: str, known: Assessed) -> None:
    """A case a finding: what nobody expects and is stuck or differs fails; all else only tells."""
    failing = Counter(_KINDS[each.finding.kind] for each in known.standing if each.finding.kind in _KINDS and not each.expected)
    suite = etree.SubElement(
        root,
        "testsuite",
        name=clean(f"{script}: findings"),
        tests=str(len(known.standing)),
        failures=str(failing["failure"]),
        errors=str(failing["error"]),
        skipped="0",
    )
    for each in known.standing:
        finding = each.finding
        case = etree.SubElement(suite, "testcase", classname=clean(f"{script}.findings"), name=clean(finding.title))
        properties = etree.SubElement(case, "properties")
        facts = {"kind": finding.kind.value, "about": finding.about, "devices": ", ".join(finding.devices), "apart": finding.apart}
        facts |= {"new": str(each.new).lower(), "expected": each.expected}
        for name, value in facts.items():
            if value:
                etree.SubElement(properties, "property", name=name, value=clean(value))
        tag = _KINDS.get(finding.kind)
        if tag and not each.expected:
            etree.SubElement(case, tag, message=clean(finding.detail)).set("type", finding.kind.value)
        else:
            etree.SubElement(case, "system-out").text = clean(finding.detail)
