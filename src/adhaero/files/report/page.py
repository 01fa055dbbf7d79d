"""A report as one HTML file with everything inside: no script, figures as SVG; it prints on A4 and on Letter."""

import base64
from collections.abc import Sequence
from dataclasses import dataclass, field
from html import escape
from typing import Final

from adhaero.files.report.style import STYLE

_POLICY = "default-src 'none'; style-src 'unsafe-inline'; img-src data:"


@dataclass(frozen=True)
class ReportTable:
    """A table: its headings and rows of texts; `numbers` stand to the right, `tight` columns stay on one line."""

    columns: Sequence[str]
    rows: Sequence[Sequence[str]]
    caption: str = ""
    numbers: Sequence[int] = ()
    tight: Sequence[int] = ()


@dataclass(frozen=True)
class Section:
    """A section: its title, its sentences, a list, figures as SVG, tables."""

    key: str
    title: str
    said: Sequence[str] = ()
    listed: Sequence[str] = ()
    figures: Sequence[str] = ()
    tables: Sequence[ReportTable] = field(default_factory=tuple)
    note: str = ""

    @property
    def is_empty(self) -> bool:
        """Return whether it says nothing."""
        return not (self.said or self.listed or self.figures or self.tables)


@dataclass(frozen=True)
class Report:
    """A report: its title, one line under it, the answer, and its sections."""

    title: str
    under: str
    answer: Sequence[str]
    sections: Sequence[Section]
    foot: str


CAUTION: Final = (
    "Shop tests compare joints with each other; they approve nothing. For anything that holds people up follow the "
    "makers’ instructions, local codes and licensed practice."
)


def draw_photo(name: str, jpeg: bytes) -> str:
    """Return a photo as it stands in a figure, its bytes inside."""
    code = base64.b64encode(jpeg).decode("ascii")
    return f'<img src="data:image/jpeg;base64,{code}" alt="{escape(name)}"><figcaption>{escape(name)}</figcaption>'


def write_report(report: Report) -> str:
    """Return a report as HTML; every text is escaped."""
    sections = [one for one in report.sections if not one.is_empty]
    contents = "".join(f'<li><a href="#{one.key}">{escape(one.title)}</a></li>' for one in sections)
    answer = "".join(f"<p>{escape(words)}</p>" for words in report.answer[1:])
    headline = escape(report.answer[0]) if report.answer else ""
    body = "".join(_write_section(one) for one in sections)
    return (
        '<!DOCTYPE html><html lang="en"><head><meta charset="utf-8">'
        f'<meta http-equiv="Content-Security-Policy" content="{_POLICY}">'
        f'<meta name="viewport" content="width=device-width"><title>{escape(report.title)}</title>'
        f"<style>{STYLE}</style></head><body><main>"
        f'<header><h1>{escape(report.title)}</h1><p class="under">{escape(report.under)}</p></header>'
        f'<section class="answer"><h2>{headline}</h2>{answer}</section>'
        f'<nav aria-label="Contents"><h2>Contents</h2><ol>{contents}</ol></nav>'
        f"{body}<footer><p>{escape(CAUTION)}</p><p>{escape(report.foot)}</p></footer></main></body></html>"
    )


def _write_section(one: Section) -> str:
    said = "".join(f"<p>{escape(words)}</p>" for words in one.said)
    listed = f"<ul>{''.join(f'<li>{escape(words)}</li>' for words in one.listed)}</ul>" if one.listed else ""
    figures = "".join(f"<figure>{svg}</figure>" for svg in one.figures)
    note = f'<p class="note">{escape(one.note)}</p>' if one.note else ""
    tables = "".join(_write_table(table) for table in one.tables)
    return f'<section id="{one.key}"><h2>{escape(one.title)}</h2>{said}{figures}{note}{listed}{tables}</section>'


def _write_table(table: ReportTable) -> str:
    kinds = dict.fromkeys(table.tight, ' class="tight"') | dict.fromkeys(table.numbers, ' class="number"')

    def cell(tag: str, at: int, text: str) -> str:
        return f"<{tag}{kinds.get(at, '') if tag == 'td' or at in table.numbers else ''}>{escape(text)}</{tag}>"

    head = "".join(cell("th", at, text) for at, text in enumerate(table.columns))
    rows = "".join(f"<tr>{''.join(cell('td', at, text) for at, text in enumerate(row))}</tr>" for row in table.rows)
    # not a caption: a browser leaves that alone at the end of a page
    caption = f'<p class="note">{escape(table.caption)}</p>' if table.caption else ""
    return f"{caption}<table><thead><tr>{head}</tr></thead><tbody>{rows}</tbody></table>"
