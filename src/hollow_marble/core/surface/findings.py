"""From what probes measure to findings: each number against its tolerance, named so that it stays the same while its faces do."""

from __future__ import annotations

from collections import Counter
from collections.abc import Callable, Sequence
from dataclasses import dataclass, replace

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.surface.continuity import Seam, around_odd_points, meetings, seams
from hollow_marble.core.surface.finding import Finding, Which
from hollow_marble.core.surface.making import draft, thin_regions, wall_by_ray
from hollow_marble.core.surface.probed import Probed
from hollow_marble.core.surface.soundness import Soundness, check_soundness

Values = NDArray[np.float64]

NEAR = 0.8
"""Share of a tolerance from which a number is told as near it."""

EDGE = 1.0
"""Degrees above which a kink is an edge, across which nobody asks for curvature."""


@dataclass(frozen=True)
class Limits:
    """What is allowed, and what counts.

    gap mm; angle degrees; jump, around : per cent of curvature, across a seam and around an odd point
    pull (3,) : which way the mould opens; draft : least degrees; wall : least mm; reach : mm within which rims meet
    counted : the probes whose findings count
    """

    gap: float = 0.01
    angle: float = 0.1
    jump: float = 5.0
    around: float = 100.0
    pull: tuple[float, float, float] = (0.0, -1.0, 0.0)
    draft: float = 1.0
    wall: float = 1.2
    reach: float = 0.5
    counted: tuple[Which, ...] = ("soundness", "continuity")


@dataclass(frozen=True)
class Checked:
    """All that was asked of one part: its soundness, its seams with their verdicts, and what is wrong."""

    soundness: Soundness
    seams: list[Seam]
    findings: list[Finding]


def verdict(seam: Seam, limits: Limits) -> str:
    """ "beyond", "near" or "within": the worst of a seam's numbers against its tolerance; "edge" where it is one that is meant."""
    if seam.edge:
        return "edge"
    share = max((amount / tolerance for _, amount, tolerance, _ in measured(seam, limits)), default=0.0)
    return "beyond" if share > 1 else "near" if share > NEAR else "within"


def measured(seam: Seam, limits: Limits) -> list[tuple[str, float, float, str]]:
    """What is measured of a seam, how much at most, what is allowed, in which unit. An edge that is sharp has no curvature across."""
    if seam.kind == "around":
        return [("around", 100 * seam.jump.most, limits.around, "%")]
    if seam.edge:
        return []
    found = [("gap", seam.gap.most, limits.gap, "mm"), ("kink", seam.angle.most, limits.angle, "°")]
    if seam.angle.most > min(limits.angle, EDGE):
        return found
    return [*found, ("jump", 100 * seam.jump.most, limits.jump, "%")]


_LESS_IS_WORSE = frozenset(("sliver", "steep", "thin"))

_SAME = 0.05
"""Share by which a number may go on its own while its finding stays accepted."""


def is_worse(finding: Finding, than: float) -> bool:
    """Whether a finding's number is worse than one it had."""
    if finding.kind in _LESS_IS_WORSE:
        return finding.amount < than * (1 - _SAME)
    return finding.amount > than * (1 + _SAME)


def _seam_findings(found: Sequence[Seam], limits: Limits, edged: bool = False) -> list[Finding]:
    """Of a form that is built with edges, jumps of curvature are told together: every rounding of one radius has two."""
    findings = _around_findings([seam for seam in found if seam.kind == "around"], limits)
    if edged:
        findings += _jump_findings(found, limits)
    for seam in found:
        if seam.kind == "around":
            continue
        for kind, amount, tolerance, unit in measured(seam, limits):
            if amount <= NEAR * tolerance or (edged and kind == "jump"):
                continue
            worst = {"gap": seam.gap, "kink": seam.angle}.get(kind, seam.jump)
            name = f"{kind}:{'-'.join(f'{key:x}' for key in seam.keys[:8])}:"
            sentence = {
                "gap": f"A gap of {amount:.3f} mm along {seam.length:.1f} mm; {tolerance:g} mm is allowed.",
                "kink": f"A kink of {amount:.2f}° along {seam.length:.1f} mm; {tolerance:g}° is allowed.",
                "jump": f"Curvature jumps by {amount:.0f} % along {seam.length:.1f} mm; {tolerance:g} % is allowed.",
            }[kind]
            findings.append(
                Finding("continuity", kind, worst.place, amount, tolerance, unit, sentence, name, amount > tolerance)
            )
    return findings


def _around_findings(found: Sequence[Seam], limits: Limits) -> list[Finding]:
    """Odd points of a part are told together: how many are beyond, and the worst."""
    if not found:
        return []
    worst = max(found, key=lambda seam: seam.jump.most)
    amount = 100 * worst.jump.most
    if amount <= NEAR * limits.around:
        return []
    beyond = sum(100 * seam.jump.most > limits.around for seam in found)
    many = f"Around {beyond} of {len(found)} odd points" if beyond else f"Around the worst of {len(found)} odd points"
    sentence = f"{many} curvature differs, by {amount:.0f} % at the most; {limits.around:g} % is allowed."
    where = worst.jump.place
    return [Finding("continuity", "around", where, amount, limits.around, "%", sentence, "around", beyond > 0)]


def _jump_findings(found: Sequence[Seam], limits: Limits) -> list[Finding]:
    jumping = [
        seam
        for seam in found
        for kind, amount, tolerance, _ in measured(seam, limits)
        if kind == "jump" and amount > NEAR * tolerance
    ]
    if not jumping:
        return []
    worst = max(jumping, key=lambda seam: seam.jump.most)
    amount, length = 100 * worst.jump.most, sum(seam.length for seam in jumping)
    sentence = (
        f"Curvature jumps along {len(jumping)} edges of roundings, {length:.0f} mm in all, by up to {amount:.0f} %; "
        f"{limits.jump:g} % is allowed."
    )
    beyond = amount > limits.jump
    return [Finding("continuity", "jump", worst.jump.place, amount, limits.jump, "%", sentence, "jumps", beyond)]


def _draft_findings(probed: Probed, limits: Limits) -> list[Finding]:
    found = draft(probed, np.array(limits.pull, float), limits.draft)
    undercuts = [
        Finding(
            "draft", "undercut", region.place, region.area, 0.0, "mm²",
            f"An undercut of {region.area:.1f} mm²: neither half of the mould lets go of it.",
        )
        for region in found.undercuts
    ]  # fmt: skip
    steep = [
        Finding(
            "draft", "steep", region.place, region.worst, limits.draft, "°",
            f"{region.area:.1f} mm² lean from the pull by {region.worst:.2f}° at the least; {limits.draft:g}° is wanted.",
        )
        for region in found.steep
    ]  # fmt: skip
    return [*undercuts, *steep]


def _wall_findings(probed: Probed, limits: Limits) -> list[Finding]:
    return [
        Finding(
            "wall", "thin", region.place, region.worst, limits.wall, "mm",
            f"A wall of {region.worst:.2f} mm over {region.area:.1f} mm²; {limits.wall:g} mm is wanted.",
        )
        for region in thin_regions(probed, wall_by_ray(probed), limits.wall)
    ]  # fmt: skip


def check_part(probed: Probed, limits: Limits) -> Checked:
    """Everything that counts, of one part."""
    sound = check_soundness(*probed.welded())
    found = [*seams(probed), *around_odd_points(probed)]
    findings: list[Finding] = []
    if "soundness" in limits.counted:
        findings += sound.findings
    if "continuity" in limits.counted:
        findings += _seam_findings(found, limits, probed.edged)
    if "draft" in limits.counted:
        findings += _draft_findings(probed, limits)
    if "wall" in limits.counted and probed.closed:
        findings += _wall_findings(probed, limits)
    return Checked(sound, found, _named(probed, findings))


def _named(probed: Probed, findings: list[Finding]) -> list[Finding]:
    """With names by the faces they lie on, the first of a kind on a face first."""
    if not findings:
        return []
    at = probed.nearest.closest(np.array([finding.place for finding in findings])).triangle
    faces = probed.face_keys[probed.faces[at]]
    seen: Counter[str] = Counter()
    named = []
    for finding, face in zip(findings, faces.tolist()):
        name = finding.key or f"{finding.kind}:{face:x}"
        seen[name] += 1
        named.append(replace(finding, key=f"{name}#{seen[name]}" if seen[name] > 1 else name))
    return named


def check_meetings(
    surfaces: Sequence[Probed], limits: Limits, told: Callable[[float], None] = lambda _: None
) -> list[tuple[int, Seam, list[Finding]]]:
    """Where rims of parts meet other parts: whose rim, the seam, what is wrong there (named without the other part)."""
    counts = "continuity" in limits.counted
    met = meetings(surfaces, limits.reach, told)
    return [(number, seam, _seam_findings([seam], limits) if counts else []) for number, seam in met]
