"""A report as plain text that reads as it is, and that Markdown programs draw."""

from adhaero.files.report.page import CAUTION, Report, ReportTable


def write_markdown(report: Report) -> str:
    """Return a report as Markdown, without its figures."""
    lines = [f"# {_clean(report.title)}", "", _clean(report.under), ""]
    lines += [line for words in report.answer for line in (_clean(words), "")]
    for one in report.sections:
        if one.is_empty:
            continue
        lines += [f"## {_clean(one.title)}", ""]
        lines += [line for words in one.said for line in (_clean(words), "")]
        if one.listed:
            lines += [*(f"- {_clean(words)}" for words in one.listed), ""]
        for table in one.tables:
            lines += [*_tabulate(table), ""]
    return "\n".join([*lines, CAUTION, "", _clean(report.foot), ""])


def _tabulate(table: ReportTable) -> list[str]:
    rows = [table.columns, ["---"] * len(table.columns), *table.rows]
    return [f"| {' | '.join(_clean(cell).replace('|', '/') for cell in row)} |" for row in rows]


def _clean(text: str) -> str:
    """Return a text on one line, without what Markdown would take for HTML."""
    return " ".join(text.replace("<", "&lt;").split())
