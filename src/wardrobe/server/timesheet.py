"""Time as files: the log and sittings as CSV and JSON, a time sheet as PDF."""

import csv
import io
from collections import defaultdict
from collections.abc import Iterable, Mapping, Sequence
from datetime import date

from wardrobe.core.formats.page import QUIET, Box, Page, Text, pages_to_pdf
from wardrobe.core.timing.pace import minutes_in_words
from wardrobe.core.timing.plan import STEPS
from wardrobe.server.schemas.time import LogLine, SittingLine

_WIDTH, _HEIGHT, _MARGIN, _ROW = 595.0, 842.0, 40.0, 16.0  # points, A4
_RISKY = ("=", "+", "-", "@", "\t", "\r")  # a spreadsheet would work these out

Row = tuple[date, int, dict[str, float]]


def log_csv(lines: Iterable[LogLine]) -> str:
    """The log with a line of names: times in UTC, ISO 8601; minutes of sittings."""
    return _csv(("at", "piece", "title", "kind", "what", "words", "minutes"),
                ((line.at.isoformat(), line.piece, line.title, line.kind, line.what, line.words,
                  "" if line.minutes is None else round(line.minutes, 2)) for line in lines))


def by_day(sittings: Iterable[SittingLine]) -> list[Row]:
    """Minutes by step of each piece on each day of this machine."""
    found: dict[tuple[date, int], dict[str, float]] = defaultdict(lambda: dict.fromkeys(STEPS, 0.0))
    for s in sittings:
        found[s.began.astimezone().date(), s.piece][s.step] += s.minutes
    return [(day, piece, steps) for (day, piece), steps in sorted(found.items())]


def sheet_csv(rows: Sequence[Row], titles: Mapping[int, str]) -> str:
    """A line a day and piece, with minutes by step and in all."""
    return _csv(("day", "piece", "title", *STEPS, "minutes"),
                ((day.isoformat(), piece, titles.get(piece, ""),
                  *(round(steps[s], 2) for s in STEPS), round(sum(steps.values()), 2))
                 for day, piece, steps in rows))


def sheet_pdf(rows: Sequence[Row], titles: Mapping[int, str], heading: str) -> bytes:
    """The same on A4: day, piece, minutes by step, sums by day and in all."""
    columns = ["day", "piece", *STEPS, "in all"]
    wide = [58.0, 137.0, *([34.0] * len(STEPS)), 46.0]
    left = [_MARGIN + sum(wide[:k]) for k in range(len(wide))]
    total = sum(sum(steps.values()) for _, _, steps in rows)
    pages: list[Page] = []
    page, y = Page(_WIDTH, _HEIGHT), 0.0

    def line(cells: Sequence[str], bold: bool = False, colour: str = "#1b1b1b") -> None:
        for k, cell in enumerate(cells):
            page.items.append(Text(left[k], y, cell, 8.5, bold, colour, wide[k] - 4))

    for k, (day, piece, steps) in enumerate(rows or [(None, 0, {})]):
        if not pages or y > _HEIGHT - _MARGIN - _ROW:
            page = Page(_WIDTH, _HEIGHT)
            pages.append(page)
            page.items += [
                Text(_MARGIN, _MARGIN + 14, heading, 15, True, width=_WIDTH - 2 * _MARGIN),
                Text(_MARGIN, _MARGIN + 30, f"{minutes_in_words(total)} in all; minutes by step",
                     9, colour=QUIET)]
            y = _MARGIN + 54
            line(columns, True)
            page.items.append(Box(_MARGIN, y + 4, sum(wide), 0.4, None))
            y += _ROW
        if day is None:
            page.items.append(Text(_MARGIN, y, "No time was noted.", 9, colour=QUIET))
            break
        new = k == 0 or rows[k - 1][0] != day
        line([day.isoformat() if new else "", titles.get(piece, ""),
              *(_minutes(steps[s]) for s in STEPS), _minutes(sum(steps.values()))])
        y += _ROW
    return pages_to_pdf(pages, heading)


def _minutes(value: float) -> str:
    return f"{value:.0f}" if value >= 0.5 or value == 0 else "<1"


def _csv(names: Sequence[str], rows: Iterable[Sequence[object]]) -> str:
    out = io.StringIO()
    writer = csv.writer(out)
    writer.writerow(names)
    for row in rows:
        writer.writerow([f"'{v}" if isinstance(v, str) and v.startswith(_RISKY) else v
                         for v in row])
    return out.getvalue()
