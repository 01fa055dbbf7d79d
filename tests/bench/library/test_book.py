"""The shop's book: one table over trials, names that a person joins, what never enters it, and the next trial."""

import random
import re
from collections.abc import Callable, Sequence
from math import ceil, exp
from pathlib import Path

import pytest

from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.library.book import view_book, view_pair
from adhaero.bench.library.names import CallEntry, JoinEntry, call_thing, forget_call, join_tables, part_tables
from adhaero.bench.library.next_step import BeginEntry, HeldValue, begin_test, view_next
from adhaero.bench.over.undo import undo
from adhaero.bench.plan.consequences import follow_plan, make_plan
from adhaero.bench.plan.settled import freeze_plan
from adhaero.bench.plan.trials import put_trial_back, remove_trial
from adhaero.bench.plan.view import view_plan
from adhaero.bench.shop.clamps import ClampsEntry, save_clamps
from adhaero.bench.shop.glue_figures import edit_figure
from adhaero.bench.shop.hours import read_shop_time
from adhaero.bench.shop.supplies import read_supplies
from adhaero.bench.timetable.batches import gather_batches
from adhaero.core.errors import EntryError, NotThere
from adhaero.core.plan.glue_ups import Pace
from adhaero.core.plan.making import begin_making, estimate_work
from adhaero.store.file import ShopFile
from adhaero.store.trials import amend_trial
from tests.made_up import Broken, Made, MadeUp, put
from tests.shops import empty_shop

TRUE = {"Heron": 500.0, "Wren": 560.0, "Plover": 640.0, "Merlin": 420.0, "Teal": 700.0, "heron epoxy": 500.0}


def breaks_of(names: Sequence[str], factor: float = 1.0) -> Callable[[Made, int, random.Random], Broken]:
    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        level = TRUE.get(made.get("glue", ""), 800.0) * factor
        return Broken(level * exp(chance.gauss(0, 0.07) + 0.05 * ((board * 7) % 5 - 2)))

    assert set(names) <= set(TRUE)
    return breaks


def trial(file: ShopFile, names: Sequence[str], question: str = "Which glue?", **more: object) -> int:
    kind = MadeUp(question, [("glue", names)], breaks_of(names), **more)  # type: ignore[arg-type]
    return put(file, kind)


@pytest.fixture
def shop(tmp_path: Path) -> ShopFile:
    """Return a shop of three trials: Heron meets all, Merlin and Teal only Heron and Plover."""
    file = empty_shop(tmp_path / "shop.sqlite")
    trial(file, ["Heron", "Wren", "Plover"], "The first three?")
    trial(file, ["Heron", "Merlin"], "Does hide do?")
    trial(file, ["Plover", "Teal"], "Is the red one better?")
    return file


def test_glues_that_never_met_stand_in_one_table(shop: ShopFile) -> None:
    table = view_book(shop).table
    assert table is not None
    assert [row.name for row in table.rows] == ["Teal", "Plover", "Wren", "Heron", "Merlin"]
    assert table.headline[0].startswith("Teal")
    pair = view_pair(shop, "glue", table.place, "Teal", "Merlin")
    assert "They never met" in pair.words
    assert pair.low is not None
    assert pair.high is not None
    assert pair.low < 700 / 420 < pair.high
    met = view_pair(shop, "glue", table.place, "Plover", "Heron")
    assert [one.question for one in met.trials] == ["The first three?"]
    assert "how far trials differ among themselves is not known" in table.between
    assert "never met" in table.never[0].lower()


def test_one_trial_alone_says_what_its_own_page_says(tmp_path: Path) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")
    only = trial(file, ["Heron", "Plover"])
    table = view_book(file).table
    (pair,) = view_compare(file, only, Choice()).pairs
    assert table is not None
    row = next(one for one in table.rows if one.name != table.against)
    ends = pair.ratio_ci95 if pair.a == row.name else pair.back_ci95
    assert ends is not None
    # two sets, so that the range of all pairs together is that of the one
    assert (row.low, row.high) == (pytest.approx(ends[0]), pytest.approx(ends[1]))


def test_two_names_of_one_glue_are_asked_about_joined_and_parted(shop: ShopFile) -> None:
    trial(shop, ["heron epoxy", "Teal"], "Another bottle?")
    table = view_book(shop).table
    assert table is not None
    (asked,) = [one for one in table.alike if {one.name, one.called} == {"heron epoxy", "Heron"}]
    call_thing(shop, CallEntry("glue", asked.name, asked.called))
    joined = view_book(shop).table
    assert joined is not None
    assert [(one.name, one.called, one.own, one.question) for one in joined.calls] == [
        (asked.name, asked.called, False, "")
    ]
    assert "heron epoxy" not in [row.name for row in joined.rows]
    assert joined.alike == []
    assert next(row for row in joined.rows if row.name == "Heron").trials == 3
    undo(shop, None)
    parted = view_book(shop).table
    assert parted is not None
    assert "heron epoxy" in [row.name for row in parted.rows]
    call_thing(shop, CallEntry("glue", "heron epoxy", "Heron"))
    again = view_book(shop).table
    assert again is not None
    forget_call(shop, again.calls[0].id)
    # a person may say that they are two: then it is asked no more, until it is taken back
    call_thing(shop, CallEntry("glue", "heron epoxy", "heron epoxy"))
    apart = view_book(shop).table
    assert apart is not None
    assert apart.alike == []
    assert [(one.name, one.own) for one in apart.calls] == [("heron epoxy", True)]
    assert {"heron epoxy", "Heron"} <= {row.name for row in apart.rows}
    forget_call(shop, apart.calls[0].id)
    asked_again = view_book(shop).table
    assert asked_again is not None
    assert asked_again.alike == table.alike
    assert all({one.a, one.b} != {"heron epoxy", "Heron"} for one in asked_again.next)
    with pytest.raises(EntryError, match="side by side"):
        call_thing(shop, CallEntry("glue", "Wren", "Plover"))
    with pytest.raises(EntryError, match="no such trial"):
        call_thing(shop, CallEntry("glue", "Osprey", "Plover"))


def test_one_name_of_two_glues_is_told_apart_in_one_trial(shop: ShopFile) -> None:
    table = view_book(shop).table
    assert table is not None
    second = next(one for one in table.trials if one.question == "Does hide do?")
    call_thing(shop, CallEntry("glue", "Heron", "Heron of the old tin", second.id))
    split = view_book(shop).table
    assert split is not None
    assert {"Heron", "Heron of the old tin"} <= {row.name for row in split.rows}
    assert "Nothing leads from them to" in split.headline[1]


def test_what_is_practice_removed_or_not_settled_is_in_no_table(shop: ShopFile) -> None:
    with shop.changing("Made practice") as connection:
        amend_trial(connection, 3, practice=True)
    table = view_book(shop).table
    assert table is not None
    assert "Teal" not in [row.name for row in table.rows]
    remove_trial(shop, 2)
    after = view_book(shop).table
    assert after is not None
    assert "Merlin" not in [row.name for row in after.rows]
    put_trial_back(shop, 2)
    back = view_book(shop).table
    assert back is not None
    assert "Merlin" in [row.name for row in back.rows]
    for one in (1, 2):
        remove_trial(shop, one)
    assert view_book(shop).table is None
    with pytest.raises(NotThere, match="Nothing is compared"):
        view_pair(shop, "glue", table.place, "Heron", "Wren")


def test_a_table_that_is_gone_says_so_and_the_others_stay(shop: ShopFile) -> None:
    with pytest.raises(NotThere, match="may have been removed"):
        view_book(shop, "glue", "a place that is none")


def test_other_fixtures_conditions_and_units_are_tables_of_their_own(shop: ShopFile) -> None:
    wet = {"condition": "soaked 24 h in cold water"}
    names = ["Heron", "Plover"]
    put(shop, MadeUp("Soaked?", [("glue", names)], breaks_of(names, 0.7), fields=wet))
    put(shop, MadeUp("Pulled?", [("glue", names)], breaks_of(names), fields={"fixture": "load"}))
    book = view_book(shop)
    assert len(book.tables) == 3
    table = book.table
    assert table is not None
    soaked = next(one.place for one in book.tables if "24 h in water" in one.place)
    loads = next(one.place for one in book.tables if "loads alone" in one.place)
    assert table.could_join == [soaked]
    with pytest.raises(EntryError, match="never stand in one table"):
        join_tables(shop, JoinEntry("glue", table.place, loads))
    join_tables(shop, JoinEntry("glue", table.place, soaked))
    joined = view_book(shop).table
    assert joined is not None
    assert len(joined.trials) == 4
    assert any("Joined by you" in one for one in joined.mind)
    with pytest.raises(EntryError, match="joined already"):
        join_tables(shop, JoinEntry("glue", soaked, table.place))
    part_tables(shop, joined.joined[0].id)
    assert len(view_book(shop).tables) == 3
    (conditions,) = table.conditions
    assert conditions.after == "24 h in water"
    assert conditions.before == "kept as they are"
    (line,) = conditions.lines
    assert line.low < 1 < line.high  # both lost three tenths
    shares = [float(one) for one in re.findall(r"(\d+) %", conditions.plain)]
    assert all(60 < one < 80 for one in shares)


def test_a_set_that_fell_apart_throughout_stands_beside_the_table(shop: ShopFile) -> None:
    def breaks(made: Made, board: int, chance: random.Random) -> Broken:
        if made.get("glue") == "Merlin":
            return Broken(30.0, "fell_apart")
        return breaks_of(["Heron"])(made, board, chance)

    put(shop, MadeUp("Weak one?", [("glue", ["Heron", "Merlin"])], breaks))
    table = view_book(shop).table
    assert table is not None
    (said,) = table.sided
    assert said.startswith("Merlin fell apart throughout in “Weak one?” (6 pieces): at most ")
    assert said.endswith("% of Heron, a bound in no rank.")


def test_only_the_trial_that_changed_is_read_again(shop: ShopFile, monkeypatch: pytest.MonkeyPatch) -> None:
    from adhaero.bench.facts import by_trial

    view_book(shop)
    read: list[int] = []
    plain = by_trial.read_trial
    monkeypatch.setattr(
        by_trial, "read_trial", lambda connection, trial_id: read.append(trial_id) or plain(connection, trial_id)
    )
    view_book(shop)
    assert read == []
    with shop.changing("Asked otherwise", 2) as connection:
        amend_trial(connection, 2, question="Does hot hide do?")
    view_book(shop)
    assert read == [2]
    call_thing(shop, CallEntry("glue", "Merlin", "Hide"))
    view_book(shop)
    assert read == [2]


def test_a_late_glue_joins_its_table_as_what_it_is(shop: ShopFile) -> None:
    trial(shop, ["Teal", "Heron"], "Round the loop?")
    table = view_book(shop).table
    assert table is not None
    assert "ways of getting there" in " ".join(table.routes)
    assert next(one for one in table.rows if one.name == "Teal").trials == 2


def test_what_next_takes_wood_and_its_plan_is_begun_in_one_press(shop: ShopFile) -> None:
    table = view_book(shop).table
    assert table is not None
    first = table.next[0]
    assert f"{2 * first.pieces} pieces" in first.takes
    new = begin_test(shop, first.base, BeginEntry(first.factor, first.a, first.b, first.pieces))
    plan = view_plan(shop, new)
    assert [one.name for one in plan.treatments] == [first.a, first.b]
    assert plan.consequences.pieces == 2 * first.pieces
    assert len(plan.boards) == first.pieces
    assert {one.typed for one in plan.quantities if one.name == "width_mm"} == {"30 mm"}
    assert plan.problems == []
    # a glue that the book calls otherwise is planned by the name that stands on its tin
    call_thing(shop, CallEntry("glue", first.a, "The best of all"))
    renamed = view_book(shop).table
    assert renamed is not None
    assert any("The best of all" in one.words for one in renamed.next)
    assert {first.a, first.b} == {renamed.next[0].a, renamed.next[0].b}
    with pytest.raises(EntryError, match="Two different values"):
        begin_test(shop, first.base, BeginEntry(first.factor, "Heron", "heron ", 4))
    with pytest.raises(NotThere, match="does not vary"):
        begin_test(shop, first.base, BeginEntry(9999, "Heron", "Wren", 4))


def test_its_hours_are_those_of_the_timetable_of_its_plan(shop: ShopFile) -> None:
    save_clamps(shop, ClampsEntry("bar clamp", "screw clamp", "4", "3 kN"))
    for at in range(1, 6):
        edit_figure(shop, at, "open_time_s", "", "4 min")
    table = view_book(shop).table
    assert table is not None
    first = table.next[0]
    said = re.search(r"about (\d+) (h|min) by hand; begun now, its last piece breaks within (\d+) d", first.takes)
    assert said is not None
    assert "at once of “bar clamp”" in first.takes
    new = begin_test(shop, first.base, BeginEntry(first.factor, first.a, first.b, first.pieces))
    freeze_plan(shop, new)
    with shop.reading() as connection:
        facts, supplies, time = read_trial(connection, new), read_supplies(connection), read_shop_time(connection)
    forces = follow_plan(make_plan(facts, supplies, ())).forces
    gathered = gather_batches(facts, supplies, forces, shop.clock(), Pace(0.05, 3))
    stock = [(one.name, one.number) for one in supplies.clamps]
    work = estimate_work(begin_making(gathered.batches, time, stock, shop.clock()))
    assert work is not None
    # pieces are shuffled, so that glue-ups may be cut a little otherwise
    assert int(said[1]) * (60 if said[2] == "h" else 1) == pytest.approx(work.hands, rel=0.15)
    assert int(said[3]) == pytest.approx(ceil(work.finish / 1440), abs=1)


def test_after_a_verdict_what_stays_open_is_named_first(tmp_path: Path) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")
    names = ["Heron", "heron epoxy"]  # the same strength by another name
    only = trial(file, names, each=4)
    said = view_next(file, only)
    assert said
    assert said[0].words.startswith("Whether ")
    assert "leaves open" in said[0].words


def test_what_else_a_trial_varied_is_held_in_the_next_plan(tmp_path: Path) -> None:
    file = empty_shop(tmp_path / "shop.sqlite")
    varied = [
        ("glue", ["Heron", "Wren", "Plover"]),
        ("condition", ["dry", "soaked 24 h"]),
        ("clamp_time", ["2 h", "9 h"]),
    ]
    put(file, MadeUp("Many things?", varied, breaks_of(["Heron"]), each=3, boards=(("larch", 3),)))
    soaked = next(one.place for one in view_book(file).tables if "24 h in water" in one.place)
    table = view_book(file, "glue", soaked).table
    assert table is not None
    first = table.next[0]
    assert [one.value for one in first.held] == ["soaked 24 h", "2 h"]
    assert any("besides: clamp time." in one for one in table.mind)
    new = begin_test(file, first.base, BeginEntry(first.factor, first.a, first.b, first.pieces, first.held))
    plan = view_plan(file, new)
    assert plan.trial.condition == "soaked 24 h"
    assert next(one.typed for one in plan.quantities if one.name == "clamp_time_s") == "2 h"
    assert len(plan.treatments) == 2
    said = view_next(file, 1)
    assert view_next(file, 1) is said  # nothing changed
    with pytest.raises(NotThere, match="does not vary"):
        begin_test(file, first.base, BeginEntry(first.factor, "Heron", "Wren", 4, (HeldValue(9999, "dry"),)))
