"""Tell findings in lines for people."""

from __future__ import annotations

from collections.abc import Sequence

from tamarind.checks.catalogue import CHECKS
from tamarind.checks.finding import PlacedFinding
from tamarind.formats.timecode import clock


def finding_lines(found: Sequence[PlacedFinding]) -> list[str]:
    """Return a line for each finding: time, level, what it is."""
    lines: list[str] = []
    for one in found:
        finding = one.finding
        title = CHECKS[finding.rule].title
        excerpt = f" – {finding.excerpt}" if finding.excerpt else ""
        where = f"{clock(finding.start)}  {one.level.word:<7}"
        lines.append(f"{where}  {title}: {finding.reason}{excerpt}")
    return lines
