"""A run as JUnit XML: a suite a take, a case a step. Differing checks are failures, stuck steps errors, unreached ones skipped."""

from __future__ import annotations

import re
from collections import Counter
from collections.abc import Sequence

from lxml import etree

from ..comparison.lanes import Lanes
from ..model.outcome import Outcome

TAGS = {Outcome.DIFFERS: "failure", Outcome.STUCK: "error", Outcome.UNREACHED: "skipped", Outcome.SKIPPED: "skipped"}
_BAD = re.compile("[^\t\n\r\u0020-\ud7ff\ue000-\ufffd\U00010000-\U0010ffff]")


def clean(words: str) -> str:
    """Without the characters that XML cannot hold; devices may show any."""
    return _BAD.sub("\ufffd", words)


def junit(lanes: Lanes, script: str, covers: Sequence[str] = ()) -> bytes:
    """The document, UTF-8. `covers`: test cases elsewhere that the script is about."""
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
            tag = {Outcome.DIFFERS: "failure", Outcome.STUCK: "error", Outcome.UNREACHED: "skipped", Outcome.SKIPPED: "skipped"}.get(
                result.outcome
            )
            if tag:
                said = etree.SubElement(case, tag, message=clean(result.reason))
                if tag != "skipped":
                    said.set("type", result.outcome.value)
            elif result.outcome is Outcome.ADAPTED:
                etree.SubElement(case, "system-out").text = clean(f"adapted: {result.reason}")
    return bytes(etree.tostring(root, xml_declaration=True, encoding="UTF-8", pretty_print=True))
