"""A newer file against the one that a trial was brought in from: new, changed, gone, each taken over with a trace."""

import pytest

from adhaero.bench.bringing.look import Given, RoleSaid, TableSaid, look_at
from adhaero.bench.bringing.newer import NewerEntry, take_newer, view_newer
from adhaero.bench.bringing.staged import Staging
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.report import export_report
from adhaero.bench.compare.workbook import export_workbook
from adhaero.bench.over.history import view_history
from adhaero.core.errors import EntryError, StateError
from adhaero.store.sources import list_sources
from tests.bench.bringing.test_take import TALL, bring, compare, dots, shop
from tests.shops import Shop, ready_shop

__all__ = ["shop"]
NEWER = TALL.replace(b"A1,Heron,B1,1200,25", b"A1,Heron,B1,1250,50").replace(
    b"A2,Wren,B1,1300,0,2024-05-03,\n", b""
) + (b"A6,Heron,B2,1190,0,2024-06-01,\nA7,Plover,B1,900,,2024-06-01,\n")


def look_newer(shop: Shop, trial: int, content: bytes = NEWER) -> tuple[Staging, str, dict[str, list[str]]]:
    staging = Staging()
    sha = staging.put("breaks-2.csv", content).sha256
    view = view_newer(shop.file, staging, trial, sha, TableSaid())
    found: dict[str, list[str]] = {}
    for one in view.changes:
        found.setdefault(one.kind.value, []).append(one.words)
    assert view.older == "breaks.csv"
    return staging, sha, found


def test_what_is_new_changed_and_gone_is_told(shop: Shop) -> None:
    trial = bring(shop, TALL)
    _, _, found = look_newer(shop, trial)
    assert [len(found[kind]) for kind in ("changed", "new", "gone")] == [1, 2, 1]
    assert "1200 N" in found["changed"][0]
    assert "1250 N" in found["changed"][0]
    assert "Wren" in found["gone"][0]


def test_all_is_taken_over_with_a_trace(shop: Shop) -> None:
    trial = bring(shop, TALL)
    staging, sha, _ = look_newer(shop, trial)
    changes = view_newer(shop.file, staging, trial, sha, TableSaid()).changes
    picks = tuple(one.key for one in changes)
    assert take_newer(shop.file, staging, trial, sha, NewerEntry(TableSaid(), picks)) == 4
    view = compare(shop, trial)
    told = dots(view)
    assert told["A1"] == ("broke", 1250.0, 50.0)
    assert sorted(group.level for group in view.groups) == ["Heron", "Plover", "Solid", "Wren"]
    assert {one.specimen for one in view.excluded} == {"A2"}
    assert len(told) == 7
    with shop.file.reading() as connection:
        assert [one.name for one in list_sources(connection, trial)] == ["breaks.csv", "breaks-2.csv"]
    assert view_history(shop.file, trial).lines[0].what == "Took over a newer file"
    report = export_report(shop.file, trial, Choice())
    assert "breaks-2.csv, D2" in report or "breaks-2.csv, " in report
    assert "Corrected after the break" in report
    assert export_workbook(shop.file, trial, Choice())
    # the newer file is what the next one is held against
    again = view_newer(shop.file, staging, trial, sha, TableSaid())
    assert (again.older, again.changes, again.same) == ("breaks-2.csv", [], 6)


def test_only_what_is_ticked_is_taken_over(shop: Shop) -> None:
    trial = bring(shop, TALL)
    staging, sha, _ = look_newer(shop, trial)
    picks = tuple(
        one.key for one in view_newer(shop.file, staging, trial, sha, TableSaid()).changes if one.kind == "changed"
    )
    take_newer(shop.file, staging, trial, sha, NewerEntry(TableSaid(), picks))
    told = dots(compare(shop, trial))
    assert told["A1"][1] == 1250.0
    assert len(told) == 5
    assert not compare(shop, trial).excluded
    with pytest.raises(EntryError):
        take_newer(shop.file, staging, trial, sha, NewerEntry(TableSaid(), ()))


def test_a_trial_that_was_made_here_has_no_older_file(shop: Shop, tmp_path_factory: pytest.TempPathFactory) -> None:
    own = ready_shop(tmp_path_factory.mktemp("own"))
    staging = Staging()
    sha = staging.put("breaks.csv", TALL).sha256
    with pytest.raises(StateError):
        view_newer(own.file, staging, own.trial, sha, TableSaid())


def test_a_reading_is_kept_and_offered_for_the_next_file_of_the_kind(shop: Shop) -> None:
    said = TableSaid(
        roles=(RoleSaid("B", "note"), RoleSaid("C", "set")), answers=(Given("label", "A1", "another try"),)
    )
    bring(shop, TALL, said)
    staging = Staging()
    alike = look_at(shop.file, staging, staging.put("next.csv", NEWER).sha256, TableSaid())
    assert alike.kept is not None
    assert (alike.kept.name, alike.kept.said) == ("breaks.csv", said)
    assert look_at(shop.file, staging, staging.put("next.csv", NEWER).sha256, said).kept is None
    other = NEWER.replace(b"Torn %", b"Wood torn")
    assert look_at(shop.file, staging, staging.put("other.csv", other).sha256, TableSaid()).kept is None
