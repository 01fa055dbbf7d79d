"""The page on the method: every “how do we know” leads to a heading that is there."""

import re
from pathlib import Path

from starlette.testclient import TestClient

from adhaero.api.app import create_app
from adhaero.api.door import Door
from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.findings import Wishes, view_findings
from adhaero.bench.compare.view import view_compare
from adhaero.core.stats.breaks import Estimate
from tests.shops import ready_shop, typed_break


def test_every_how_do_we_know_leads_to_a_heading(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    for turn, piece in enumerate(shop.pieces):
        face = "100" if turn % 3 == 0 else "10"
        break_by_hand(shop.file, shop.trial, typed_break(piece.id, f"{640 + 13 * turn} N", Judgement("broke", face)))
    sections = set()
    for estimate in Estimate:
        choice = Choice(estimate, within_boards=False)
        sections |= {how.section for how in view_compare(shop.file, shop.trial, choice).how.values()}
        found = view_findings(shop.file, shop.trial, choice, Wishes(line="50 MPa"))
        sections |= {one.how.section for one in found.findings}
    assert {"comparing", "typical-strength-and-scatter", "weibull", "kinds-of-failure"} <= sections
    page = TestClient(create_app(shop.file, Door(("testserver",)))).get("/method")
    anchors = set(re.findall(r'<h\d id="([^"]+)"', page.text))
    assert page.status_code == 200
    source = Path(__file__).parents[2] / "src/adhaero/bench/compare/findings"
    written = {
        one
        for file in source.glob("*.py")
        for one in re.findall(r'^ +"([a-z]+(?:-[a-z]+)+|weibull|comparing)",$', file.read_text(), re.MULTILINE)
    }
    assert len(written) > 6
    assert sections | written | {"curves"} <= anchors
