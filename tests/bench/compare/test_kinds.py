"""Each kind of trial that people make is answered in its first two sentences; slice by slice where it is cut."""

import random
import re
from dataclasses import replace
from functools import cache
from pathlib import Path
from tempfile import mkdtemp

import pytest

from adhaero.bench.compare.across import view_across, view_slices
from adhaero.bench.compare.breaks import Choice, collect_breaks
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.findings import Wishes, conclude, view_findings
from adhaero.bench.compare.findings.checks import view_checks
from adhaero.bench.compare.shares import SOLID, view_shares
from adhaero.bench.compare.spoken import view_spoken
from adhaero.bench.compare.view import CompareView, ask_pair, show_compare, view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.core.errors import NotThere
from adhaero.core.response import Response
from adhaero.store.file import ShopFile
from tests.made_up import KINDS, Broken, Made, MadeUp, make_shop, many


@cache
def made(kind: str) -> tuple[ShopFile, int]:
    """Return a made-up trial of a kind; nothing here changes it."""
    return make_shop(Path(mkdtemp()), many(8, each=5) if kind == "many" else KINDS[kind])


def show(kind: str, **asked: object) -> CompareView:
    return show_compare(*made(kind), Choice(**asked))  # type: ignore[arg-type]


def answer(kind: str) -> str:
    """Return what stands largest on the page."""
    across = view_slices(*made(kind), Choice()).headline
    summary = show(kind).summary
    return " ".join(across) if across or summary is None else summary.headline


@pytest.mark.parametrize(
    ("kind", "said"),
    [
        (
            "many",
            r"^Dry: Siskin 1 is the strongest, by at least \d+ %\. Soaked: .* Boiled: Siskin 1 .* Frozen: Siskin 1",
        ),
        ("clamp time", r"^Final strength 5\d\.\d MPa \(.*\)\. 90 % of it after \d+ minutes"),
        ("gap", r"^Without a gap 5\d\.\d MPa .*; half of it is left at 0\.\d+ mm"),
        ("one each", r"^Teal broke highest, 63\.0 to 66\.7 MPa; next Dunlin"),
        ("pairs", r"^Partner by partner \(8\): fresh is 2\d % stronger than thawed \(\+2\d % to \+\d+ %\)\."),
        ("passes", r"^Heron and Wren pass more often than Plover\."),
        ("years", r"^Wren loses 6\.\d+ % of its start a year \(.*\)\. Plover is not shown to change"),
        ("end grain", r"^Long grain is at least 2\.\d times as strong as end grain\."),
        ("joints", r"^Face joint is the strongest, by at least 3\d %\."),
    ],
)
def test_the_first_sentences_answer_what_was_asked(kind: str, said: str) -> None:
    assert re.match(said, answer(kind)), answer(kind)


def test_a_slice_is_a_trial_of_its_own_and_its_file_gives_its_numbers() -> None:
    file, trial = made("many")
    slices = view_slices(file, trial, Choice())
    assert [one.value for one in slices.slices] == ["dry", "soaked", "boiled", "frozen"]
    assert slices.names == ["what it goes through before the test", "glue"]
    soaked = Choice(slice=slices.slices[1].words)
    view = show_compare(file, trial, soaked)
    assert len(view.groups) == 8
    assert len(view.dots) == 40
    assert {one.level for one in view.groups} == {one.name for one in view.use}
    assert all("soaked" not in one.level for one in view.groups), "what all of them went through names none"
    assert not any("not broken yet" in words for words in view.mind)
    whole = {one.label: one.value for one in collect_breaks(read_trial_of(file, trial), Choice()).specimens}
    assert {one.label: whole[one.label] for one in view.dots} == {one.label: one.strength for one in view.dots}
    assert len(export_breaks(file, trial, soaked).content.splitlines()) == 41
    by_glue = view_slices(file, trial, Choice(slice="glue:"))
    assert [one.value for one in by_glue.slices][:2] == ["Heron 1", "Wren 1"]
    assert show_compare(file, trial, Choice(slice="glue:")).slice == "glue: Heron 1"


def read_trial_of(file: ShopFile, trial: int):  # type: ignore[no-untyped-def]
    with file.reading() as connection:
        return read_trial(connection, trial)


def test_only_pairs_that_matter_are_sent_and_any_other_is_asked_for() -> None:
    file, trial = made("many")
    dry = Choice(slice=view_slices(file, trial, Choice()).first)
    view, full = show_compare(file, trial, dry), view_compare(file, trial, dry)
    assert view.pairs_in_all == len(full.pairs) == 28
    assert len(view.pairs) < 15
    order = [one.level for one in view.groups]
    shown = {frozenset((one.a, one.b)) for one in view.pairs}
    assert frozenset(order[:2]) in shown
    assert all(order.index(one.a) < order.index(one.b) for one in view.pairs), "the stronger stands first"
    hidden = next(one for one in full.pairs if frozenset((one.a, one.b)) not in shown)
    asked = ask_pair(file, trial, dry, hidden.b, hidden.a)
    assert (asked.a, asked.words, asked.range) == (hidden.b, hidden.words, hidden.back_range)
    with pytest.raises(NotThere, match="are not compared"):
        ask_pair(file, trial, dry, "Heron 1", "nothing")


def test_what_goes_across_slices_is_told_beside_them() -> None:
    said = " ".join(view_across(*made("many"), Choice()).said)
    assert re.search(
        r"Soaked costs 4\d % against dry \(−\d+ % to −\d+ %\), averaged over 8 that were made in each", said
    )
    assert "They change places: Siskin 1 is stronger than" in said
    assert "and weaker soaked" in said
    assert view_across(*made("gap"), Choice()).said == []
    assert view_across(*made("end grain"), Choice()).said == ["long grain has the highest numbers in 6 of 6 woods."]


def test_shares_are_of_what_is_asked_with_their_range() -> None:
    file, trial = made("clamp time")
    best = view_shares(file, trial, Choice(), "")
    assert (best.of, best.rows[0].share) == ("160 min", "100 %")
    of_solid = view_shares(file, trial, Choice(), SOLID)
    assert of_solid.rows[0].share == next(one.share for one in view_shares(file, trial, Choice(), "Solid").rows)
    typed = {one.level: one for one in view_shares(file, trial, Choice(), "20 MPa").rows}
    typical = {one.level: one for one in show("clamp time").groups}
    assert typed["160 min"].share == f"{100 * (typical['160 min'].typical or 0) / 20:.0f} %"
    low, high = typical["160 min"].typical_ci95 or (0, 0)
    assert typed["160 min"].range == f"{100 * low / 20:.0f} to {100 * high / 20:.0f} %"
    said = view_shares(file, trial, Choice(), "40 MPa").said
    assert said[0] == (
        "For 40 MPa, typically above: 160 min, 80 min and Solid; typically below: 10 min and 5 min; "
        "not to be told: 40 min and 20 min."
    )
    firm = [one.level for one in typical.values() if (one.lower_5pct or 0) > 40]
    assert said[1].endswith(f"(3 chances in 4): {' and '.join(firm)}.")
    wrong = view_shares(file, trial, Choice(), "20 parrots")
    assert "is not a unit" in wrong.problem
    assert wrong.rows == best.rows
    held = view_shares(file, trial, Choice(response=Response.LOAD, unit="kg"), "40")
    assert held.of == "40 kg"
    loads = {one.level: one.typical for one in show("clamp time", response=Response.LOAD).groups}
    assert held.rows[0].share == f"{100 * (loads['160 min'] or 0) / 9.80665 / 40:.0f} %"


def test_numbers_are_read_in_the_unit_of_the_person() -> None:
    view = show("joints", unit="psi")
    assert (view.unit.symbol, [one.symbol for one in view.unit_options]) == ("psi", ["MPa", "psi", "kg/cm²"])
    assert view.unit.per_si == pytest.approx(145.0377, rel=1e-6)
    load = show("joints", response=Response.LOAD, unit="kg")
    assert load.unit.per_si == pytest.approx(1 / 9.80665)
    assert show("joints", unit="parrots").unit.symbol == "MPa"
    headline = show("one each", response=Response.LOAD, unit="lb").summary
    assert headline is not None
    assert "lb; next" in headline.headline


def test_moment_and_time_can_be_compared_where_the_breaks_carry_them() -> None:
    assert Response.MOMENT in {one.name for one in show("joints").responses}
    assert Response.TIME not in {one.name for one in show("gap").responses}
    load, moment = (show("joints", response=one) for one in (Response.LOAD, Response.MOMENT))
    newton = {one.level: one.typical or 0.0 for one in load.groups}
    for one in moment.groups:
        # a load in the middle of a span of 120 mm: load · span / 4
        assert one.typical == pytest.approx(newton[one.level] * 0.120 / 4)
    assert [one.symbol for one in moment.unit_options] == ["N·m", "lbf·ft", "kg·m"]
    time = show("joints", response=Response.TIME)
    assert time.summary is not None
    assert time.summary.headline.startswith("By time until it broke: Face joint is the longest-lasting, by at least 3")


def test_one_piece_each_is_ranked_and_says_what_it_cannot_tell() -> None:
    view = show("one each")
    assert [one.level for one in view.groups][:2] == ["Teal", "Dunlin"]
    assert view.spans["Teal"] == "63.0 to 66.7 MPa"
    assert view.pairs == []
    assert {one.letters for one in view.groups} == {None}
    assert view.summary is not None
    assert "14 are in order; Dunlin and Merlin are not" in view.summary.averages
    assert "the order of these pieces, not of all such pieces" in view.summary.averages
    rows = view_shares(*made("one each"), Choice(), "").rows
    assert rows[1] == rows[1].__class__("Dunlin", "77 %", "72 to 82 %")


def test_pass_or_fail_has_bounds_and_says_what_a_claim_takes() -> None:
    view = show("passes")
    assert view.passing is not None
    first = view.passing.rows[0]
    assert (first.level, first.passed, first.n) == ("Wren", 12, 12)
    assert first.at_least_pct == pytest.approx(100 * 0.05 ** (1 / 12)), "Clopper and Pearson of all passing"
    assert first.more_for_claim == 59 - 12, "59 that all pass claim 95 %"
    assert len(view.passed_ids) == sum(one.passed for one in view.passing.rows)
    assert "Heron and Wren: cannot tell yet which passes more often" in view.passing.said[-1]


def test_passes_are_pooled_over_what_does_not_matter(tmp_path: Path) -> None:
    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        return Broken(None, torn_pct=90.0 if made["glue"] == "Heron" or chance.random() < 0.3 else 10.0)

    varied = [("glue", ("Heron", "Plover")), ("condition", ("dry", "soaked"))]
    trial = MadeUp("Does it stay on?", varied, breaks, each=10, fields={"fixture": "pry", "answer": "pass_fail"})
    file, key = make_shop(tmp_path, trial)
    view = show_compare(file, key, Choice(slice=view_slices(file, key, Choice()).first))
    assert view.passing is not None
    assert [(one.level, one.n) for one in view.passing.rows] == [("Heron", 10), ("Plover", 10)]
    pooled = [one for one in view.passing.said if one.startswith("Over all of")]
    assert "Heron: 20 of 20 passed, 100 %" in pooled[0]

    def soaked_fail(made: Made, board: int, chance: random.Random) -> Broken:
        return Broken(None, torn_pct=10.0 if "soaked" in made.values() else 90.0)

    other = tmp_path / "other"
    other.mkdir()
    file, key = make_shop(other, replace(trial, breaks=soaked_fail))
    view = show_compare(file, key, Choice(slice=view_slices(file, key, Choice()).first))
    assert view.passing is not None
    assert view.passing.said[-1] == "Not pooled: dry and soaked differ in how often pieces pass."


def test_guess_and_conclusion_are_held_against_what_passed() -> None:
    file, trial = make_shop(Path(mkdtemp()), KINDS["passes"])
    conclude(file, trial, "", "All of Wren passed. Plover passes more often than Heron.")
    view = view_checks(file, trial, Choice())
    assert [one.standing for one in view.claims] == ["supported", "contradicted"]
    assert "passes more often" in view.checkable[0]


def test_three_sentences_are_read_out() -> None:
    for kind in ("many", "one each", "passes", "years"):
        file, trial = made(kind)
        said = view_spoken(file, trial, Choice(slice=view_slices(file, trial, Choice()).first)).sentences
        assert len(said) == 3
        assert said[0].rstrip(".") in answer(kind)
        assert said[1].startswith("We broke ")
        assert said[2].startswith("What it does not show: ")


def test_who_is_steadier_is_a_result_of_its_own() -> None:
    found = view_findings(*made("years"), Choice(), Wishes()).findings
    assert "steadier" in {one.key for one in found}


def test_good_enough_for_what_a_joint_has_to_carry_leads_where_the_plan_says_a_load(tmp_path: Path) -> None:
    levels = {"Heron": 400.0, "Wren": 560.0, "Plover": 800.0}

    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        return Broken(levels[made["glue"]] * (1 + 0.08 * chance.uniform(-1, 1)))

    kind = MadeUp("Which is good enough?", [("glue", list(levels))], breaks, fields={"must_carry_n": "550 N"})
    shop, trial = make_shop(tmp_path, kind)
    summary = show_compare(shop, trial, Choice()).summary
    assert summary is not None
    assert summary.headline == (
        "For 550 N, typically above: Plover; typically below: Heron; not to be told: Wren."
        " So strong that 19 of 20 such pieces stay above it (3 chances in 4): Plover."
    )
    assert "Plover is the strongest" in summary.also
    by_stiffness = show_compare(shop, trial, Choice(response=Response.MOMENT)).summary
    assert by_stiffness is not None
    assert "550 N" not in by_stiffness.headline
