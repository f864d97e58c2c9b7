"""The track sheet as a file: JSON, CSV with a line per articulation and note, and a page for printing."""

import csv
import io
import math
from html import escape

from drumcore.formats.csv_text import defused
from drumcore.kit.values import Side, Width
from drumcore.routing.track_sheet import SheetArticulation, SheetPiece, SheetPlace, TrackSheet

COLUMNS = ("piece", "articulation", "note", "note_name", "output", "called", "side", "track", "also_at")
RAMP = ("#f6d8c2", "#f0b48f", "#e58a5c", "#d2602f", "#9c3b17")
"""From soft to hard, as on the screens."""


def sheet_to_json(sheet: TrackSheet) -> str:
    return sheet.model_dump_json(indent=1) + "\n"


def sheet_to_csv(sheet: TrackSheet) -> str:
    """One line per articulation and note; an articulation without a note has one line."""
    text = io.StringIO()
    rows = csv.writer(text, lineterminator="\n")
    rows.writerow(COLUMNS)
    for piece in sheet.pieces:
        own = piece.own
        side = "" if own is None or own.side is Side.BOTH else own.side.value
        silent = ("silent", "", "", "") if piece.silent else ("",) * 4
        place = (own.number, defused(own.called), side, defused(own.track)) if own else silent
        others = " ".join(str(other.number) for other in piece.others)
        for articulation in piece.articulations:
            for note, name in (
                zip(articulation.notes, articulation.note_names, strict=True) if articulation.notes else (("", ""),)
            ):
                plain = name.replace("♯", "#").replace("−", "-")
                rows.writerow((defused(piece.name), defused(articulation.name), note, plain, *place, others))
    return text.getvalue()


def sheet_to_html(sheet: TrackSheet) -> str:
    """A self-contained HTML page for printing on A4 or letter."""
    pieces = "".join(_piece(piece) for piece in sheet.pieces)
    tracks = "".join(
        f'<tr><td class="n">{track.number}</td><td class="c">{escape(track.called)}</td>'
        f'<td><b>{escape(track.track)}</b></td><td class="w">{"○" if track.width is Width.MONO else "○○"}</td>'
        f'<td class="a">{escape(", ".join(track.arrives))}</td></tr>'
        for track in sheet.tracks
    )
    return f"""<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>{escape(sheet.kit)}: track sheet</title><style>{STYLE}</style></head>
<body><header><h1>{escape(sheet.kit)}</h1><p>{len(sheet.tracks)} tracks on <b>{escape(sheet.host)}</b> · notes of
<b>{escape(sheet.notes_from)}</b></p></header>
<main><section><h2>Articulations, notes and outputs</h2><table><thead><tr><th></th><th>Articulation</th><th>Note</th><th>Output</th>
<th>Track</th></tr></thead>{pieces}</table></section>
<section><h2>Tracks of {escape(sheet.host)}</h2><table class="tracks"><thead><tr><th>Out</th><th>Called</th><th>Track</th>
<th></th><th>From</th></tr></thead><tbody>{tracks}</tbody></table></section></main></body></html>
"""


def _piece(piece: SheetPiece) -> str:
    """A piece's articulations as one block of rows that does not break across pages."""
    count = max(1, len(piece.articulations))
    rows = []
    for place, articulation in enumerate(
        piece.articulations or (SheetArticulation(name="–", notes=(), note_names=(), layers=()),)
    ):
        first = f'<td rowspan="{count}" class="p">{_skin(piece)}<b>{escape(piece.name)}</b></td>' if place == 0 else ""
        out = f'<td rowspan="{count}" class="o">{_own(piece)}</td>' if place == 0 else ""
        track = f'<td rowspan="{count}" class="t">{_tracks(piece)}</td>' if place == 0 else ""
        notes = " ".join(
            f'<span class="note">{note}</span> <span class="c">{escape(name)}</span>'
            for note, name in zip(articulation.notes, articulation.note_names, strict=True)
        )
        none = '<span class="c">no note</span>'
        rows.append(f"<tr>{first}<td>{escape(articulation.name)}</td><td>{notes or none}</td>{out}{track}</tr>")
    return f"<tbody>{''.join(rows)}</tbody>"


def _own(piece: SheetPiece) -> str:
    return f'<span class="n">{piece.own.number}{_side(piece.own)}</span>' if piece.own else "–"


def _side(place: SheetPlace) -> str:
    return {Side.LEFT: " L", Side.RIGHT: " R", Side.BOTH: ""}[place.side]


def _tracks(piece: SheetPiece) -> str:
    own = f'<b>{escape(piece.own.track)}</b> <span class="c">{escape(piece.own.called)}</span>' if piece.own else ""
    if piece.silent:
        return f'<span class="also">{escape(piece.silent)}</span>'
    also = ", ".join(f"{other.number} {escape(other.track)}" for other in piece.others)
    return own + (f'<span class="also">also {also}</span>' if also else "")


def _skin(piece: SheetPiece) -> str:
    """The layers of the first articulation as concentric rings, hardest in the middle, with one sector per take."""
    layers = piece.articulations[0].layers if piece.articulations else ()
    if not layers:
        return ""
    shapes = []
    for place, takes in enumerate(layers):
        radius = 15.0 * (len(layers) - place) / len(layers)
        colour = RAMP[round(place / max(1, len(layers) - 1) * (len(RAMP) - 1))]
        shapes.append(f'<circle r="{radius:.2f}" fill="{colour}" stroke="#fff" stroke-width=".6"/>')
        for number in range(takes if takes > 1 else 0):
            angle = 2.0 * math.pi * number / takes
            x, y = radius * math.sin(angle), -radius * math.cos(angle)
            inner = 15.0 * (len(layers) - place - 1) / len(layers) / radius
            shapes.append(
                f'<path d="M{x * inner:.2f} {y * inner:.2f}L{x:.2f} {y:.2f}" stroke="#fff" stroke-width=".5"/>'
            )
    return f'<svg viewBox="-16 -16 32 32" width="26" height="26" aria-hidden="true">{"".join(shapes)}</svg>'


STYLE = """
@page{margin:14mm}*{box-sizing:border-box}
body{font:12px/1.35 "Hanken Grotesk",system-ui,sans-serif;color:#29231c;background:#fff;margin:0 auto;max-width:190mm;
padding:8px;-webkit-print-color-adjust:exact;print-color-adjust:exact}
header{display:flex;justify-content:space-between;align-items:baseline;border-bottom:2px solid #29231c;margin-bottom:12px}
h1{font-size:26px;margin:0 0 4px;letter-spacing:-.01em}h2{font-size:14px;margin:16px 0 6px}header p{margin:0;color:#6b6155}
table{border-collapse:collapse;width:100%}th{text-align:left;font-size:10.5px;font-weight:600;color:#8a7f71;padding:2px 8px}
td{padding:3px 8px;vertical-align:middle}tbody{border-top:1px solid #ddd3c4;break-inside:avoid}
.tracks tr{border-top:1px solid #ddd3c4;break-inside:avoid}
.p{white-space:nowrap;font-size:14px}.p svg{vertical-align:middle;margin-right:8px}
.n,.note,.c,.w{font-family:"JetBrains Mono",ui-monospace,monospace}
.n{font-size:19px;font-weight:600;white-space:nowrap}.tracks .n{font-size:15px}
.note{font-weight:600}.note~.note{margin-left:8px}.c,.w,.also{color:#8a7f71;font-size:11px}.also{display:block}.a{color:#6b6155}
"""
SHEET_FORMS = {"csv": sheet_to_csv, "json": sheet_to_json, "html": sheet_to_html}
