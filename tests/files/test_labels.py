"""Labels: on paper to the tenth of a millimetre, every half of every piece, codes that open the piece."""

import re
from xml.etree import ElementTree

import pytest
import segno

from adhaero.core.errors import EntryError
from adhaero.files.labels import SHEETS, Label, Sheet, draw_pages, find_sheet, make_print_page

SVG = "{http://www.w3.org/2000/svg}"


def make(count: int, text: str = "W-{:03d}") -> list[Label]:
    return [
        Label(text.format(n), "Heron, soaked 24 h", ("right", "left")[n % 2], f"http://127.0.0.1:8700/pieces/{n}")
        for n in range(count)
    ]


def boxes(page: str) -> list[tuple[float, float, float, float]]:
    """Return the labels of a page as left, top, right, bottom in mm on the paper."""
    found = []
    for group in ElementTree.fromstring(page).iter(f"{SVG}g"):
        match = re.fullmatch(r"translate\(([\d.]+) ([\d.]+)\)", group.get("transform", ""))
        frame = group.find(f"{SVG}rect")
        assert match
        assert frame is not None
        x, y = float(match[1]), float(match[2])
        found.append((x, y, x + float(frame.get("width", 0)), y + float(frame.get("height", 0))))
    return found


@pytest.mark.parametrize("sheet", SHEETS.values(), ids=list(SHEETS))
def test_labels_lie_on_the_paper_and_not_over_each_other(sheet: Sheet) -> None:
    (page,) = draw_pages(make(sheet.places), sheet)
    root = ElementTree.fromstring(page)
    assert (root.get("width"), root.get("height")) == (f"{sheet.paper_width_mm:g}mm", f"{sheet.paper_height_mm:g}mm")
    assert root.get("viewBox") == f"0 0 {sheet.paper_width_mm:g} {sheet.paper_height_mm:g}", "a unit is a millimetre"
    laid = boxes(page)
    assert len(laid) == sheet.places
    for number, (left, top, right, bottom) in enumerate(laid):
        assert right - left == pytest.approx(sheet.label_width_mm, abs=0.01)
        assert bottom - top == pytest.approx(sheet.label_height_mm, abs=0.01)
        assert left >= 0
        assert top >= 0
        assert right <= sheet.paper_width_mm + 0.01
        assert bottom <= sheet.paper_height_mm + 0.01
        for other in laid[:number]:
            apart = other[2] <= left + 0.01 or right <= other[0] + 0.01
            assert apart or other[3] <= top + 0.01 or bottom <= other[1] + 0.01


@pytest.mark.parametrize("sheet", SHEETS.values(), ids=list(SHEETS))
@pytest.mark.parametrize("text", ["P-1", "W-{:017d}"])
def test_what_stands_on_a_label_stays_on_it(sheet: Sheet, text: str) -> None:
    (page,) = draw_pages([Label(text.format(7), "x" * 60, "right", "http://shop/1")], sheet)
    group = next(ElementTree.fromstring(page).iter(f"{SVG}g"))
    for words in group.iter(f"{SVG}text"):
        size, letters = float(words.get("font-size", 0)), len(words.text or "")
        em = 0.62 if words.get("font-weight") else 0.56
        assert float(words.get("x", 0)) + em * size * letters <= sheet.label_width_mm
        assert float(words.get("y", 0)) <= sheet.label_height_mm
        assert size >= 1.5, "still readable"
    code = group.find(f"{SVG}path")
    assert code is not None
    scale = float(re.search(r"scale\(([\d.]+)\)", code.get("transform", ""))[1])  # type: ignore[index]
    assert scale >= 0.25, "a module of a quarter of a millimetre prints and scans"


def test_the_code_is_the_standard_code_of_the_address() -> None:
    url = "http://127.0.0.1:8700/pieces/3"
    (page,) = draw_pages([Label("W-3", "", "", url)], SHEETS["a4-3x8"])
    path = next(ElementTree.fromstring(page).iter(f"{SVG}path")).get("d", "")
    dark = {
        (int(x) + step - 2, int(y) - 2)
        for x, y, run in re.findall(r"M(\d+) (\d+)h(\d+)", path)
        for step in range(int(run))
    }
    wanted = segno.make_qr(url, error="m").matrix
    assert dark == {(x, y) for y, row in enumerate(wanted) for x, module in enumerate(row) if module}


def test_a_begun_sheet_is_continued_and_the_rest_follows() -> None:
    sheet = SHEETS["a4-3x8"]
    pages = list(draw_pages(make(30), sheet, first=20))
    assert [len(boxes(page)) for page in pages] == [5, 24, 1]
    assert boxes(pages[0])[0][:2] == (70.0, 0.5 + 6 * 37)
    with pytest.raises(EntryError, match="A sheet has 24 places"):
        list(draw_pages(make(1), sheet, first=25))


def test_glue_is_on_the_side_that_is_said() -> None:
    sheet = SHEETS["a4-3x8"]

    def edge(side: str) -> list[float]:
        (page,) = draw_pages([Label("W-1", "Heron", side, "http://shop/1")], sheet)
        thick = [p for p in ElementTree.fromstring(page).iter(f"{SVG}path") if p.get("stroke-width") == "0.9"]
        return [float(re.match(r"M([\d.]+)", p.get("d", ""))[1]) for p in thick]  # type: ignore[index]

    (left,), (right,) = edge("left"), edge("right")
    assert left < right
    assert edge("") == []


def test_the_print_page_has_no_margins_and_one_sheet_to_a_page() -> None:
    page = "".join(make_print_page("Trial <1>", make(25), SHEETS["letter-3x10"]))
    assert "@page{size:215.9mm 279.4mm;margin:0}" in page
    assert page.count("<svg") == 1
    assert "Trial &lt;1&gt;" in page
    assert "<script" not in page
    with pytest.raises(EntryError, match="Choose one of a4-3x8"):
        find_sheet("a5")
