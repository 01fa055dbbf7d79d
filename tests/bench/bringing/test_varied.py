"""What varies in a table that comes in is one of the shop's own kinds, as its headings mean it or a person says."""

import pytest

from adhaero.bench.bringing.look import FoundView, Given, TableSaid, look_at
from adhaero.bench.bringing.newer import NewerEntry, take_newer, view_newer
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.bringing.varied import ABOUT
from adhaero.bench.compare.across import view_slices
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.headline import NO_CURVE
from adhaero.bench.compare.report import export_report
from adhaero.bench.compare.slices import list_slices
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.library.book import view_book
from adhaero.bench.library.next_step import BeginEntry, begin_test
from adhaero.bench.plan.view import view_plan
from adhaero.core.errors import EntryError
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import AnswerKind, Factor
from adhaero.core.plan.varied import guess_kind
from tests.bench.bringing.test_take import bring, compare, shop
from tests.shops import Shop

__all__ = ["shop"]


def table(*columns: str, rows: str = "") -> bytes:
    """Return a table of pieces with these columns before their loads; `rows` are their values, `a,b;a,c`."""
    lines = [f"{n},{row},{1000 + 53 * (n * 7 % 11)}" for n, row in enumerate(rows.split(";") * 3, 1)]
    return "\n".join([f"Piece,{','.join(columns)},Load (N)", *lines]).encode()


def look(shop: Shop, content: bytes, *said: tuple[str, str]) -> FoundView:
    staging = Staging()
    answers = tuple(Given(ABOUT, heading, kind) for heading, kind in said)
    return look_at(shop.file, staging, staging.put("breaks.csv", content).sha256, TableSaid(answers=answers))


def facts_of(shop: Shop, trial: int) -> PieceFacts:
    with shop.file.reading() as connection:
        return read_trial(connection, trial)


WEATHERED = table("Glue", "Clamp time (h)", "Soak", "Wood", rows="Tern,1,fresh,ash;Tern,4,24 h,ash;Gull,1,24 h,ash")


@pytest.mark.parametrize(
    ("heading", "values", "kind"),
    [
        ("Glue used", "Tern Gull", Factor.GLUE), ("Adhesive", "Tern Gull", Factor.GLUE),
        ("Glue line gap (mm)", "0.1 0.4", Factor.GAP), ("Gap", "0.1 0.4", Factor.OWN),
        ("Clamp (psi)", "50 120", Factor.CLAMP_PRESSURE), ("Clamped", "1h 4h", Factor.CLAMP_TIME),
        ("Clamped", "yes no", Factor.OWN), ("Age, days", "1 7", Factor.CURE_TIME), ("Age", "1 7", Factor.OWN),
        ("Scarf", "1:8 1:12", Factor.SLOPE), ("Joint", "dowel box", Factor.JOINT), ("Joint", "A B", Factor.OWN),
        ("Soaked", "yes no", Factor.OWN), ("Soaked", "no 24h", Factor.CONDITION),
        ("Condition", "A B", Factor.CONDITION), ("set", "Tern Gull", Factor.OWN),
        ("treatment", "dry wet", Factor.CONDITION), ("set", "dry wet", Factor.OWN), ("set", "end side", Factor.GRAIN),
        ("Grain of the wood", "end A", Factor.SPECIES), ("Bottle", "old new", Factor.OWN),
    ],
)  # fmt: skip
def test_a_heading_means_a_kind_where_its_values_are_of_it(heading: str, values: str, kind: Factor) -> None:
    assert guess_kind(heading, values.split()) is kind


def test_a_table_answers_like_a_trial_that_was_planned(shop: Shop) -> None:
    """Clamp time is a quantity, what it went through cuts, the one wood is the boards', a glue is a glue."""
    found = look(shop, WEATHERED)
    assert [(one.heading, one.count, one.kind) for one in found.varies] == [
        ("Glue", 2, Factor.GLUE), ("Clamp time (h)", 2, Factor.CLAMP_TIME), ("Soak", 2, Factor.CONDITION),
        ("Wood", 1, Factor.SPECIES),
    ]  # fmt: skip
    assert found.varies[2].kinds[0].values == "fresh, soak 24 h"
    assert [one.name for one in found.sets] == ["Tern, 1 h, fresh", "Tern, 4 h, soak 24 h", "Gull, 1 h, soak 24 h"]
    trial = bring(shop, WEATHERED)
    facts = facts_of(shop, trial)
    assert {level.name: level.value_si for level in facts.levels.values() if level.value_si} == {
        "1 h": 3600,
        "4 h": 14400,
    }
    assert {board.species for board in facts.boards.values()} == {"ash"}
    assert [one.name for one in facts.treatments.values()] == [one.name for one in found.sets]
    assert {facts.glue_of(one) for one in facts.made} == {"Tern", "Gull"}
    # when they went in nobody wrote down: that they never did is not said either
    assert not [words for words in compare(shop, trial).mind if "sends them through" in words]
    assert [one.value for one in list_slices(facts)][:2] == ["fresh", "soak 24 h"]


def test_a_person_says_otherwise_and_the_next_file_of_the_kind_is_read_so(shop: Shop) -> None:
    content = table("Glue", "Time", rows="Tern,30;Tern,90;Gull,30")
    assert look(shop, content).varies[1].kind is Factor.OWN, "minutes, hours? of what?"
    said = ("Time", "clamp_time min")
    seen = look(shop, content, said).varies[1]
    assert (seen.kind, seen.kinds[0].words, seen.kinds[0].values) == (
        Factor.CLAMP_TIME, "clamp time, in min", "30 min, 90 min",
    )  # fmt: skip
    trial = bring(shop, content, TableSaid(answers=(Given(ABOUT, *said),)))
    assert list(facts_of(shop, trial).kinds.values()) == [Factor.GLUE, Factor.CLAMP_TIME]
    kept = look(shop, content + b"\n13,Gull,90,1200").kept
    assert kept is not None
    assert [(one.subject, one.choice) for one in kept.said.answers] == [said]


@pytest.mark.parametrize(
    ("said", "words"),
    [
        ((("Glue", "clamp_time"),), "“Glue” holds Tern, Gull: that is no clamp time"),
        ((("Glue", "nonsense"),), "that is no nonsense"),
        ((("Glue", "prep"), ("Jig", "prep")), "“Jig” and another column are both surface prep"),
    ],
)
def test_what_the_values_cannot_be_is_told(shop: Shop, said: tuple[tuple[str, str], ...], words: str) -> None:
    content = table("Glue", "Jig", rows="Tern,old;Tern,new;Gull,old")
    with pytest.raises(EntryError, match=words):
        look(shop, content, *said)


def test_an_amount_that_alone_varies_is_answered_along_it(shop: Shop) -> None:
    rows = ";".join(f"{hours}" for hours in (1, 2, 4, 12, 24))
    content = table("Clamp time (h)", rows=rows)
    assert look(shop, content).answer is AnswerKind.CURVE
    assert look(shop, WEATHERED).answer is AnswerKind.COMPARE
    trial = bring(shop, content)
    assert facts_of(shop, trial).trial.answer is AnswerKind.CURVE
    assert compare(shop, trial).summary.headline.startswith("Final strength ")
    asked = bring(shop, content, answer=AnswerKind.COMPARE)
    assert facts_of(shop, asked).trial.answer is AnswerKind.COMPARE


def test_a_curve_that_is_not_the_shape_is_no_answer_and_what_is_known_leads(shop: Shop) -> None:
    loads = {30: (270, 260, 282), 90: (310, 330, 325), 240: (350, 345, 352)}
    rows = "".join(f"{n},{minutes},{load}\n" for minutes, mine in loads.items() for n, load in enumerate(mine))
    summary = compare(shop, bring(shop, f"Piece,Clamp time (min),Load (lb)\n{rows}".encode())).summary
    assert summary.headline == f"From 90 min on no difference is shown. {NO_CURVE}"


def test_results_are_read_in_the_unit_in_which_loads_were_written_down(shop: Shop) -> None:
    content = table("Glue", rows="Tern;Gull").replace(b"(N)", b"(lb)")
    trial = bring(shop, content)
    assert compare(shop, trial).unit.symbol == "lb"
    assert view_compare(shop.file, trial, Choice(unit="kg")).unit.symbol == "kg"
    report = export_report(shop.file, trial, Choice())
    assert " lb" in report
    assert " kN" not in report.replace("load, kN, or as typed", "")
    # of two units neither is taken
    mixed = bring(shop, b"Piece,Glue,Load\n1,Tern,900 N\n2,Tern,880 N\n3,Gull,210 lb\n4,Gull,200 lb\n")
    assert compare(shop, mixed).unit.symbol == "kN"


def test_values_that_would_be_one_are_not_of_that_kind_and_a_blank_has_a_name(shop: Shop) -> None:
    """Dowel and dowels are two values in the table: as joints of the shop they would be one."""
    found = look(shop, table("Glue", "Joint", rows="Tern,dowel;Tern,dowels;Gull,dowel"))
    assert found.varies[1].kind is Factor.OWN
    assert "joint" not in [one.key for one in found.varies[1].kinds]
    blank = look(shop, table("Glue", "Primer", rows="Tern,none;Tern,;Gull,none"))
    assert blank.varies[1].kinds[0].values == "none, not said"


def test_of_two_pieces_each_a_slice_that_has_a_leader_says_so_before_partners_do(shop: Shop) -> None:
    loads = {
        "Tern,dry": (1500, 1510),
        "Gull,dry": (1000, 1010),
        "Tern,soaked 2 d": (700, 710),
        "Gull,soaked 2 d": (705, 715),
    }
    rows = "".join(f"{made},{load}\n" for made, mine in loads.items() for load in mine)
    trial = bring(shop, f"Glue,Condition,Load (N)\n{rows}".encode())
    headline = view_slices(shop.file, trial, Choice()).headline
    assert headline[0].startswith("Dry: Tern is stronger than Gull")
    # where no slice has one, the partners say what there is to say
    alike = bring(shop, f"Glue,Condition,Load (N)\n{rows}".replace("150", "99").replace("151", "100").encode())
    assert view_slices(shop.file, alike, Choice()).headline[0].startswith("Partner by partner")


def test_what_all_pieces_share_is_held_and_no_set(shop: Shop) -> None:
    content = table("Glue", "Clamp time", "Joint", rows="Tern,4 h,dowel;Gull,4 h,dowel")
    facts = facts_of(shop, bring(shop, content))
    assert list(facts.kinds.values()) == [Factor.GLUE]
    assert facts.quantities["clamp_time_s"].si == 14400
    assert (facts.trial.joint, facts.trial.joint_said) == (Joint.DOWELS, True)
    alone = facts_of(shop, bring(shop, table("Clamp time (h)", rows="1;4")))
    assert [one.name for one in alone.made] == ["1 h", "4 h"], "no set without a name stands beside"


def test_a_newer_file_brings_its_values_in_the_same_kind(shop: Shop) -> None:
    content = table("Glue", "Clamp time (h)", rows="Tern,1;Gull,4")
    trial = bring(shop, content)
    staging = Staging()
    sha = staging.put("breaks-2.csv", content + b"\n7,Tern,12,1500\n8,Solid,,2100").sha256
    picks = tuple(one.key for one in view_newer(shop.file, staging, trial, sha, TableSaid()).changes)
    assert take_newer(shop.file, staging, trial, sha, NewerEntry(TableSaid(), picks)) == 2
    facts = facts_of(shop, trial)
    new = {one.name: one for one in facts.treatments.values()}
    assert set(new) == {"Tern, 1 h", "Gull, 4 h", "Tern, 12 h", "Solid"}
    assert new["Solid"].solid
    level = facts.level_of(new["Tern, 12 h"], Factor.CLAMP_TIME)
    assert level is not None
    assert (level.name, level.value_si) == ("12 h", 43200)


def test_what_is_a_persons_own_is_called_by_its_name_where_it_is_averaged_over(shop: Shop) -> None:
    bring(shop, table("Glue", "Jig", rows="Tern,old;Tern,new;Gull,old;Gull,new"))
    book = view_book(shop.file, "glue").table
    assert book is not None
    assert any("varied besides: jig." in words for words in book.mind)


def test_the_book_tests_next_what_came_in_and_its_glues_need_no_card(shop: Shop) -> None:
    for other in ("Gull", "Plover"):
        bring(shop, table("Glue", rows=f"Tern;{other}"), joint=Joint.EDGE, fixture=None)
    table_ = view_book(shop.file).table
    assert table_ is not None
    first = table_.next[0]
    plan = view_plan(shop.file, begin_test(shop.file, first.base, BeginEntry(first.factor, first.a, first.b, 4)))
    assert [one.kind for one in plan.factors] == [Factor.GLUE]
    assert [one.name for one in plan.treatments] == [first.a, first.b]
