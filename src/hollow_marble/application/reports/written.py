"""A report as PDF, as one self-contained HTML file, and as JSON."""

from __future__ import annotations

import base64
import io
import json
from html import escape
from typing import Literal

from reportlab.lib.pagesizes import A4
from reportlab.lib.utils import ImageReader
from reportlab.pdfbase import pdfmetrics
from reportlab.pdfgen.canvas import Canvas

from hollow_marble.application.checks import Listed
from hollow_marble.application.reports.content import Report
from hollow_marble.documents.sheet.model import Font
from hollow_marble.documents.sheet.notes import font_file
from hollow_marble.exchange.pdf import use_fonts

ReportKind = Literal["pdf", "html", "json"]
MEDIA: dict[ReportKind, str] = {"pdf": "application/pdf", "html": "text/html", "json": "application/json"}

_INK, _QUIET, _WRONG, _ACT, _VEIN = "#20282b", "#5f676a", "#9b2c3b", "#1f6f5c", "#dad4ca"
MOST_ROWS = 24
"""Findings that one page of paper holds; the data hold all."""


def report_bytes(report: Report, kind: ReportKind) -> bytes:
    """The report in one of its forms."""
    if kind == "json":
        return json.dumps(report.data(), indent=1, ensure_ascii=False).encode()
    return _html(report).encode() if kind == "html" else _pdf(report)


def _verdict(report: Report) -> str:
    if report.open == 0:
        return "Nothing is beyond its tolerance."
    return f"{report.open} finding{'s are' if report.open > 1 else ' is'} beyond tolerance and not accepted."


def _limits(report: Report) -> str:
    c = report.form.checking
    counted = ", ".join(c.counted) or "nothing"
    return (
        f"Checked: {counted}. Allowed: gap {c.gap:g} mm, kink {c.angle:g}°, curvature {c.jump:g} %, around odd points "
        f"{c.around:g} %; wanted: draft {c.draft:g}°, wall {c.wall:g} mm."
    )


def _facts(report: Report) -> list[tuple[str, str]]:
    weights = report.weights
    facts = [("Size", " × ".join(f"{value:.1f}" for value in report.size) + " mm")]
    if weights.by_weight:
        facts.append(("Weight", f"{weights.grams:.1f} g, as if solid"))
    if weights.centre:
        facts.append(("Centre of mass", ", ".join(f"{value:.1f}" for value in weights.centre) + " mm"))
    if weights.standing:
        stands = weights.standing
        facts.append(("Stands", f"yes, tips at {stands.tip:.1f}°" if stands.stands else "no"))
    sound = all(not any(one.soundness.counts.values()) for _, one in report.checks.parts)
    closed = sum(one.soundness.closed for _, one in report.checks.parts)
    facts.append(("Parts", f"{len(report.checks.parts)}, {closed} closed, {'all' if sound else 'not all'} sound"))
    return facts


def _state(one: Listed) -> str:
    if one.accepted:
        return "accepted"
    return "beyond" if one.finding.beyond else "near"


def _amount(one: Listed) -> str:
    return f"{one.finding.amount:.3g} {one.finding.unit}".strip()


def _allowed(one: Listed) -> str:
    return f"{one.finding.tolerance:g} {one.finding.unit}".strip() if one.finding.tolerance else "none"


def _place(one: Listed) -> str:
    return ", ".join(f"{value:.1f}" for value in one.finding.place)


def _html(report: Report) -> str:
    faces: tuple[tuple[Font, str, int], ...] = (
        ("sans", "Report", 400), ("sans strong", "Report", 600), ("serif", "Title", 400),
    )  # fmt: skip
    fonts = "".join(
        f"@font-face{{font-family:'{family}';font-weight:{weight};src:url(data:font/ttf;base64,"
        f"{base64.b64encode(font_file(font)).decode()})}}"
        for font, family, weight in faces
    )
    shots = "".join(
        f'<figure><img alt="{escape(shot.name)}" src="data:image/png;base64,{base64.b64encode(shot.png()).decode()}">'
        f"<figcaption><b>{escape(shot.name)}</b> {escape(shot.says)}</figcaption></figure>"
        for shot in report.shots
    )
    rows = "".join(
        f'<tr class="{_state(one)}"><td>{number}</td><td>{_state(one)}</td><td>{escape(one.part.name)}</td>'
        f"<td>{escape(one.finding.sentence)}{_reason(one)}</td><td>{_amount(one)}</td><td>{_allowed(one)}</td>"
        f"<td>{_place(one)}</td></tr>"
        for number, one in enumerate(report.findings, 1)
    )
    head = "".join(
        f"<th scope=col>{word}</th>" for word in ("", "State", "Part", "What", "Number", "Allowed", "At, mm")
    )
    table = f"<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>" if rows else ""
    facts = "".join(f"<dt>{name}</dt><dd>{escape(value)}</dd>" for name, value in _facts(report))
    return f"""<!doctype html><html lang="en"><meta charset="utf-8"><meta name="viewport" content="width=device-width">
<title>{escape(report.title)}: surface report</title><style>{fonts}
body{{font:13px/1.45 Report,sans-serif;color:{_INK};background:#f6f3ee;max-width:1060px;margin:32px auto;padding:0 24px}}
h1{{font:400 30px Title,serif;margin:0}}p{{margin:4px 0}}.quiet{{color:{_QUIET}}}
.verdict{{font-size:17px;font-weight:600;color:{_WRONG if report.open else _ACT}}}
dl{{display:grid;grid-template-columns:max-content 1fr;gap:2px 16px;margin:14px 0}}dt{{color:{_QUIET}}}dd{{margin:0}}
.shots{{display:grid;grid-template-columns:repeat(5,1fr);gap:12px;margin:18px 0}}figure{{margin:0}}img{{width:100%}}
figcaption{{font-size:12px}}table{{border-collapse:collapse;width:100%}}td,th{{text-align:left;vertical-align:top;padding:5px 10px 5px 0;border-top:1px solid {_VEIN};font-variant-numeric:tabular-nums}}
.beyond td:nth-child(2){{color:{_WRONG};font-weight:600}}.accepted{{color:{_QUIET}}}
@media print{{body{{margin:0;background:none}}}}</style>
<h1>{escape(report.title)}</h1><p class="quiet">{escape(report.maker)}, {escape(report.version)}, {report.made}</p>
<p class="verdict">{_verdict(report)}</p><p class="quiet">{_limits(report)}</p><dl>{facts}</dl>
<div class="shots">{shots}</div>{table}</html>"""


def _reason(one: Listed) -> str:
    return f" <i>Reason: {escape(one.accepted.reason)}</i>" if one.accepted else ""


def _pdf(report: Report) -> bytes:
    use_fonts()
    file = io.BytesIO()
    canvas = Canvas(file, pagesize=A4, pageCompression=1)
    canvas.setTitle(f"{report.title}: surface report")
    page = _Page(canvas)
    page.line(report.title, "serif", 24, _INK, 30)
    page.line(f"{report.maker}, {report.version}, {report.made}", "sans", 9, _QUIET, 18)
    page.line(_verdict(report), "sans strong", 13, _WRONG if report.open else _ACT, 17)
    page.block(_limits(report), "sans", 8.5, _QUIET)
    page.gap(6)
    for name, value in _facts(report):
        page.row([(name, 84, "sans", _QUIET), (value, 400, "sans", _INK)], 9)
    page.gap(8)
    page.pictures(report)
    page.gap(10)
    widths = (18, 48, 62, 236, 52, 46, 73)
    if report.findings:
        words = ("", "State", "Part", "What", "Number", "Allowed", "At, mm")
        page.row([(word, width, "sans strong", _QUIET) for word, width in zip(words, widths)], 8)
    for number, one in enumerate(report.findings[:MOST_ROWS], 1):
        said = one.finding.sentence + (f" Reason: {one.accepted.reason}" if one.accepted else "")
        cells = (str(number), _state(one), one.part.name, said, _amount(one), _allowed(one), _place(one))
        colour = _WRONG if one.counts else _QUIET if one.accepted else _INK
        if not page.table_row([(cell, width, "sans", colour) for cell, width in zip(cells, widths)], 8):
            page.line(
                f"{len(report.findings) - number + 1} more: see the report as HTML or JSON.", "sans", 8, _QUIET, 11
            )
            break
    else:
        if len(report.findings) > MOST_ROWS:
            rest = len(report.findings) - MOST_ROWS
            page.line(f"{rest} more: see the report as HTML or JSON.", "sans", 8, _QUIET, 11)
    canvas.save()
    return file.getvalue()


Cell = tuple[str, float, str, str]


class _Page:
    """One page of paper, written from the top. Points."""

    def __init__(self, canvas: Canvas) -> None:
        self._canvas = canvas
        self._left, self._y = 30.0, A4[1] - 34.0
        self._wide = A4[0] - 60.0

    def gap(self, points: float) -> None:
        self._y -= points

    def line(self, text: str, font: str, size: float, colour: str, step: float) -> None:
        self._put(text, self._left, font, size, colour)
        self._y -= step

    def block(self, text: str, font: str, size: float, colour: str) -> None:
        for part in _wrapped(text, font, size, self._wide):
            self.line(part, font, size, colour, size * 1.35)

    def row(self, cells: list[Cell], size: float) -> None:
        self.table_row(cells, size)

    def table_row(self, cells: list[Cell], size: float) -> bool:
        """Writes a row; False where the page has no room for it."""
        wrapped = [_wrapped(text, font, size, width - 6) for text, width, font, _ in cells]
        tall = max(map(len, wrapped)) * size * 1.3
        if self._y - tall < 40:
            return False
        x, top = self._left, self._y
        for lines, (_, width, font, colour) in zip(wrapped, cells):
            self._y = top
            for text in lines:
                self._put(text, x, font, size, colour)
                self._y -= size * 1.3
            x += width
        self._y = top - tall - 2
        return True

    def pictures(self, report: Report) -> None:
        """All pictures side by side with what they show beneath."""
        count = max(len(report.shots), 1)
        wide = (self._wide - 6 * (count - 1)) / count
        top, lowest = self._y, self._y
        for k, shot in enumerate(report.shots):
            x = self._left + k * (wide + 6)
            tall = wide * shot.pixels.shape[0] / shot.pixels.shape[1]
            self._canvas.drawImage(ImageReader(io.BytesIO(shot.png())), x, top - tall, wide, tall)
            self._y = top - tall - 10
            self._put(shot.name, x, "sans strong", 7.5, _INK)
            for text in _wrapped(shot.says, "sans", 7, wide):
                self._y -= 9
                self._put(text, x, "sans", 7, _QUIET)
            lowest = min(lowest, self._y)
        self._y = lowest - 8

    def _put(self, text: str, x: float, font: str, size: float, colour: str) -> None:
        self._canvas.setFillColor(colour)
        self._canvas.setFont(font, size)
        self._canvas.drawString(x, self._y, text)


def _wrapped(text: str, font: str, size: float, width: float) -> list[str]:
    """Lines of a text that are no wider than there is room, in points."""
    lines, line = [], ""
    for word in text.split():
        longer = f"{line} {word}".strip()
        if line and pdfmetrics.stringWidth(longer, font, size) > width:
            lines.append(line)
            line = word
        else:
            line = longer
    return [*lines, line]
