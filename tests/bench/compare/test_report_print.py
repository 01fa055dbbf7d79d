"""A report printed on A4 and on Letter: nothing is cut, all stands in order, headings come again on each page."""

import io
import re
from pathlib import Path

import pytest
from playwright.sync_api import Browser
from pypdf import PdfReader

from adhaero.bench.bringing.look import TableSaid
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.take import TakeEntry, take_table
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.report import export_report
from tests.shops import new_shop

SETS, EACH = 44, 7


@pytest.fixture(scope="module")
def report(tmp_path_factory: pytest.TempPathFactory) -> str:
    shop = new_shop(tmp_path_factory.mktemp("print"))
    rows = [
        f"P{at:02}-{number},Slope {at:02},B{number},{1000 + 37 * at % 900 + 53 * number % 210}"
        for at in range(SETS)
        for number in range(EACH)
    ]
    staging = Staging()
    staged = staging.put("slopes.csv", "\n".join(["Piece,Set,Board,Load (N)", *rows]).encode())
    trial = take_table(shop.file, staging, staged.sha256, TakeEntry(said=TableSaid(), question="Which slope holds?"))
    return export_report(shop.file, trial, Choice())


@pytest.mark.parametrize(("paper", "inches"), [("A4", (8.27, 11.69)), ("Letter", (8.5, 11.0))])
def test_a_report_prints_with_nothing_cut(
    browser: Browser, report: str, tmp_path: Path, paper: str, inches: tuple[float, float]
) -> None:
    file = tmp_path / "report.html"
    file.write_text(report, encoding="utf-8")
    page = browser.new_page()
    page.goto(file.as_uri())
    printed = PdfReader(io.BytesIO(page.pdf(format=paper, print_background=True)))
    page.close()
    texts = [one.extract_text() for one in printed.pages]
    size = printed.pages[0].mediabox
    assert (float(size.width) / 72, float(size.height) / 72) == pytest.approx(inches, abs=0.02)
    assert 10 <= len(texts) <= 24
    whole = "\n".join(texts)
    titles = re.findall(r'<section id="\w+"><h2>(.*?)</h2>', report)
    places = [whole.rindex(title) for title in titles]
    assert places == sorted(places)
    # a figure stands on one page: the names of its sets and its scale
    figures = re.findall(r"<figure>(.*?)</figure>", report, re.DOTALL)
    assert len(figures) == 3
    for figure in figures:
        names = re.findall(r"Slope \d\d", figure)
        assert names
        assert sum(all(text.count(name) for name in names) for text in texts) >= 1
        assert [text for text in texts if all(name in text for name in names) and re.search(r"\bN\b", text)]
    # the heading of the long table comes again on each of its pages, and no row is lost
    rows = [text for text in texts if re.search(r"P\d\d-\d", text)]
    assert all("what happened" in " ".join(text.split()) for text in rows)
    labels = re.findall(r"P\d\d-\d(?!\d)", "\n".join(rows))
    assert sorted(set(labels)) == sorted(f"P{at:02}-{number}" for at in range(SETS) for number in range(EACH))
    # a title never stands last on its page
    for text in texts:
        last = [line for line in text.splitlines() if line.strip()][-1].strip()
        assert last not in titles
