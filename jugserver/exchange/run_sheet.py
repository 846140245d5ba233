"""The run sheet on paper: the same steps and figures as on the tablet, with room to write."""

from __future__ import annotations

from datetime import datetime
from io import BytesIO
from typing import Any

from reportlab.lib import colors
from reportlab.lib.pagesizes import A4
from reportlab.lib.styles import ParagraphStyle
from reportlab.lib.units import mm
from reportlab.platypus import KeepTogether, Paragraph, SimpleDocTemplate, Spacer, Table, TableStyle

from jugcore.batch.sheet.schema import SheetLine, SheetReport, SheetStep
from jugcore.figures import shown
from jugcore.keeping.two_stage_cooling import ALL_S, FIRST_S, MIDDLE_C
from jugcore.method.phrases import capital
from jugcore.reading.keeping.assessment import DEFERS
from jugserver.exchange.scripts import BOLD, PLAIN, drawable, marked_up, use_fonts


def run_sheet_pdf(*, name: str, batch: str, version: int, started: datetime, by: str, sheet: SheetReport, cold_c: float | None = None) -> bytes:
    """A4, a block a step; what was measured stands where it was entered, else an empty box. ``batch`` is what it is called, “batch 0041”.

    ``cold_c`` where it is held by time and temperature and cools from 57 °C: then a cooling log stands at the end.

    Hours are those of ``started``'s time zone.
    """
    use_fonts()
    out = BytesIO()
    document = SimpleDocTemplate(
        out, pagesize=A4, leftMargin=16 * mm, rightMargin=16 * mm, topMargin=14 * mm, bottomMargin=14 * mm, title=f"{name}, {batch}"
    )
    story: list[Any] = [
        _text(name, BOLD, 20),
        _text(
            f"{capital(batch)}, version {version}, started {started:%d %b %Y %H:%M} by {by}. {shown(round(sheet.planned_yield_g))} g planned.",
            PLAIN,
            9.5,
        ),
        *(_text(words, BOLD, 10) for words in sheet.made_first),
        Spacer(1, 4 * mm),
    ]
    for number, step in enumerate(sheet.steps, 1):
        story.append(KeepTogether(_block(number, step)))
    if cold_c is not None:
        story.append(KeepTogether(_cooling(sheet, cold_c, started)))
    notes = [line for line in sheet.log if line.kind in ("noted", "wasted", "put_right", "closed") and not line.undone]
    if notes:
        story.append(_text("Notes", BOLD, 12))
        story += [_text(f"{line.at.astimezone(started.tzinfo):%H:%M} {line.words} ({line.by})", PLAIN, 9) for line in notes]
    document.build(story)
    return out.getvalue()


def _cooling(sheet: SheetReport, cold_c: float, started: datetime) -> list[Any]:
    """The cooling log: both marks, what the probe showed of them, or room to write."""
    log = sheet.cooling

    def at(moment: datetime) -> str:
        return f"{moment.astimezone(started.tzinfo):%H:%M}"

    rows = [["", "at", "probe shows", "by"], ["Cooling began", at(log.began) if log else "", "", ""]]
    for index, (mark_c, hours) in enumerate(((MIDDLE_C, FIRST_S / 3600), (cold_c, ALL_S / 3600))):
        mark = log.marks[index] if log else None
        shows = f"{mark.reads_c:,.1f} °C" if mark is not None and mark.reads_c is not None else ""
        rows.append([f"At most {mark_c:g} °C within {hours:g} hours", at(mark.at) if mark and mark.at else "", shows, at(mark.by) if mark else ""])
    return [_text("Cooling log", BOLD, 12), _table(rows, (76, 28, 40, 34)), _text(DEFERS, PLAIN, 8.5), Spacer(1, 3.5 * mm)]


def _text(text: str, font: str, size: float) -> Paragraph:
    style = ParagraphStyle(f"{font}-{size}", fontName=font, fontSize=size, leading=size * 1.25, shaping=1)
    return Paragraph(marked_up(drawable(text, font), font), style)


def _block(number: int, step: SheetStep) -> list[Any]:
    block: list[Any] = [_text(f"{number}  {step.title}", BOLD, 12)]
    if step.lines:
        rows = [["", "weigh", "near enough", "weighed"], *(_row(line) for line in step.lines)]
        block.append(_table(rows, (76, 28, 40, 34)))
    figures = list(_figures(step))
    if figures:
        block.append(_table([[_text(what, PLAIN, 9.5), value, near, ""] for what, value, near in figures], (76, 28, 40, 34)))
    if step.premix is not None:
        larger = step.premix
        words = (
            f"{larger.title} is {shown(round(larger.grams, 2))} g, ± {shown(round(100 * larger.error))} % on {larger.scale}: put together "
            f"{larger.times} times as much of everything here, {shown(round(larger.make_g, 1))} g, and take {shown(round(larger.take_g, 2))} g of it."
        )
        block.append(_text(f"Note: {words}", PLAIN, 8.5))
    block += [_text(f"Note: {caution}", PLAIN, 8.5) for caution in step.cautions]
    block.append(Spacer(1, 3.5 * mm))
    return block


def _row(line: SheetLine) -> list[Any]:
    digits = 0 if line.resolution_g >= 1 else 1 if line.resolution_g >= 0.1 else 2
    weighed = "" if line.measured is None else f"{line.measured.mass_g:,.{digits}f} g"
    return [
        _text(line.title, PLAIN, 9.5), f"{line.target_g:,.{digits}f} g", f"{line.low_g:,.{digits}f}–{line.high_g:,.{digits}f} g", weighed,
    ]  # fmt: skip


def _figures(step: SheetStep) -> list[tuple[str, str, str]]:
    """What is looked for or was entered: what it is, the figure, and what is near enough."""
    found: list[tuple[str, str, str]] = []
    if step.boil is not None:
        boil = step.boil
        if boil.for_min is not None:
            found.append(("Boil for, timed from when it boils", f"{shown(round(boil.for_min, 1))} min", ""))
            found.append((f"{boil.pot_name} then reads about, pot included", f"{boil.stop_reads_g:,.0f} g", ""))
        else:
            near = f"{boil.near_low_g:,.0f}–{boil.near_high_g:,.0f} g"
            found.append((f"Stop when {boil.pot_name} reads, pot included", f"{boil.stop_reads_g:,.0f} g", near))
        if boil.weighings:
            found.append(("Last reading", f"{boil.weighings[-1].reads_g:,.0f} g", ""))
        if boil.drop is not None:
            found.append(("Refractometer, at 20 °C", f"{boil.drop.brix:,.1f} °Bx", ""))
    if step.expects_g is not None:
        found.append(("Expected", f"{step.expects_g:,.0f} g", ""))
        if step.gave is not None:
            found.append(("Weighed", f"{step.gave.mass_g:,.0f} g", ""))
    if step.fill is not None:
        found.append(("Filled", f"{step.fill.filled_g:,.0f} g in {step.fill.filled}" if step.fill.filled else "", ""))
    if step.warm is not None:
        found.append(("Probe shows", f"{step.warm.probe.temperature_c:,.1f} °C" if step.warm.probe else "", ""))
    return found


def _table(rows: list[list[Any]], widths_mm: tuple[float, ...]) -> Table:
    table = Table(rows, colWidths=[width * mm for width in widths_mm], hAlign="LEFT")
    table.setStyle(
        TableStyle([
            ("FONT", (0, 0), (-1, -1), PLAIN, 9.5), ("ALIGN", (1, 0), (-1, -1), "RIGHT"), ("VALIGN", (0, 0), (-1, -1), "MIDDLE"),
            ("LINEBELOW", (0, 0), (-1, -1), 0.4, colors.grey), ("TOPPADDING", (0, 0), (-1, -1), 2), ("BOTTOMPADDING", (0, 0), (-1, -1), 3),
        ])
    )  # fmt: skip
    return table
