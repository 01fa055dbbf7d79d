"""Copies are whole while the shop is in use; going back keeps the present; what the disk says is told in words."""

import os
import shutil
import sqlite3
import threading
from collections.abc import Callable
from contextlib import closing
from dataclasses import replace
from datetime import timedelta
from pathlib import Path

import pytest

from adhaero.bench.over.today import view_today
from adhaero.bench.plan.trials import create_trial
from adhaero.core.errors import AdhaeroError, DataError, StateError, StorageError
from adhaero.store import migrating
from adhaero.store.connecting import let_go
from adhaero.store.copies import copy_shop, hold, keep_daily_copy, list_daily_copies, restore_shop
from adhaero.store.file import ShopFile, open_shop, utc_now
from adhaero.store.turns import Turns
from tests.rig.test_reader import wait_for
from tests.shops import Clock


def questions(path: Path) -> list[str]:
    return [trial.question for trial in view_today(open_shop(path)).trials]


@pytest.fixture
def file(tmp_path: Path) -> ShopFile:
    made = open_shop(tmp_path / "shop.sqlite")
    create_trial(made, "Which glue?")
    return made


def keep_log_open(file: ShopFile) -> sqlite3.Connection:
    """Hold a reader, so that what is saved stays in the write-ahead log beside the file."""
    reader = sqlite3.connect(file.path)
    reader.execute("BEGIN")
    reader.execute("SELECT count(*) FROM trial").fetchone()
    return reader


def test_a_copy_holds_what_stands_in_the_log_beside_the_file(file: ShopFile, tmp_path: Path) -> None:
    with closing(keep_log_open(file)):
        create_trial(file, "Which clamp?")
        bare = shutil.copy2(file.path, tmp_path / "bare.sqlite")
        copy = copy_shop(file, tmp_path / "copies")
    with closing(sqlite3.connect(bare)) as plain:
        assert plain.execute("SELECT count(*) FROM trial").fetchone()[0] < 2, "a plain copy lacks it"
    assert hold(copy).trials == 2
    assert not list(copy.parent.glob("*-wal")), "one file, nothing beside it"


def test_the_copy_before_a_migration_lacks_nothing(file: ShopFile, monkeypatch: pytest.MonkeyPatch) -> None:
    known = migrating._migrations()
    number = known[-1][0] + 1
    with closing(keep_log_open(file)):
        create_trial(file, "Which clamp?")
        more = (number, "more.sql", "CREATE TABLE more (id INTEGER PRIMARY KEY) STRICT;\n")
        monkeypatch.setattr(migrating, "_migrations", lambda: [*known, more])
        open_shop(file.path)
    with closing(sqlite3.connect(f"{file.path}.before-{number:04d}")) as before:
        assert before.execute("SELECT count(*) FROM trial").fetchone()[0] == 2


def test_going_back_keeps_the_present_and_says_what_differs(file: ShopFile, tmp_path: Path) -> None:
    copy = copy_shop(file, tmp_path / "copies")
    create_trial(file, "Which clamp?")
    restored = restore_shop(file.path, copy, utc_now())
    assert questions(file.path) == ["Which glue?"]
    assert restored.before is not None
    assert (restored.before.trials, restored.now.trials) == (2, 1)
    assert restored.list_differences() == ["not in the copy: Which clamp?"]
    assert restored.kept is not None
    assert questions(restored.kept) == ["Which clamp?", "Which glue?"]
    restore_shop(file.path, restored.kept, utc_now() + timedelta(seconds=2))
    assert questions(file.path) == ["Which clamp?", "Which glue?"]


def spoil_text(path: Path) -> None:
    path.write_text("not a shop")


def spoil_page(path: Path) -> None:
    with path.open("rb+") as raw:
        raw.seek(4096)
        raw.write(os.urandom(4096 * 6))


def spoil_version(path: Path) -> None:
    with closing(sqlite3.connect(path)) as newer:
        newer.execute("PRAGMA user_version = 9999")


@pytest.mark.parametrize("spoil", [spoil_text, spoil_page, spoil_version, Path.unlink])
def test_what_is_no_sound_copy_is_refused_and_nothing_is_touched(
    file: ShopFile, tmp_path: Path, spoil: Callable[[Path], object]
) -> None:
    copy = copy_shop(file, tmp_path / "copies")
    create_trial(file, "Which clamp?")
    spoil(copy)
    with pytest.raises(StorageError):
        restore_shop(file.path, copy, utc_now())
    assert questions(file.path) == ["Which clamp?", "Which glue?"]
    assert not list(tmp_path.glob("shop.sqlite.aside-*"))


def test_a_copy_of_each_day_of_use_is_kept_for_a_fortnight(file: ShopFile) -> None:
    clock = Clock()
    shop = replace(file, clock=clock)
    for day in range(20):
        clock.now += timedelta(days=1)
        if day % 2 == 0:
            create_trial(shop, f"Day {day}?")
        made = keep_daily_copy(shop)
        assert (made is not None) == (day % 2 == 0), "a day without use needs none"
        assert keep_daily_copy(shop) is None, "nothing is new"
    for day in range(20, 30):
        clock.now += timedelta(days=1)
        create_trial(shop, f"Day {day}?")
        keep_daily_copy(shop)
        create_trial(shop, f"Evening of day {day}?")
        keep_daily_copy(shop)
    kept = list_daily_copies(shop.path)
    assert len(kept) == 14
    assert kept[-1][0] == clock().astimezone().date().isoformat()
    assert "Evening of day 29?" in questions(kept[-1][1]), "the copy of a day is that of its end"


def test_a_clock_that_goes_back_keeps_the_copies(file: ShopFile) -> None:
    clock = Clock()
    shop = replace(file, clock=clock)
    keep_daily_copy(shop)
    clock.now -= timedelta(days=400)
    create_trial(shop, "Which year?")
    assert keep_daily_copy(shop) is None
    assert len(list_daily_copies(shop.path)) == 1


def test_a_folder_or_a_file_in_the_way_is_told(tmp_path: Path) -> None:
    (tmp_path / "shop.sqlite").mkdir()
    (tmp_path / "file").write_text("x")
    for path in (tmp_path / "shop.sqlite", tmp_path / "file" / "shop.sqlite", tmp_path / "file"):
        with pytest.raises(StorageError) as caught:
            open_shop(path)
        assert str(path) in caught.value.sentence


def test_a_damaged_page_is_told_and_leads_to_a_copy(file: ShopFile) -> None:
    create_trial(file, "x" * 300)
    with closing(sqlite3.connect(file.path)) as connection:
        connection.execute("PRAGMA wal_checkpoint(TRUNCATE)")
    spoil_page(file.path)
    with pytest.raises(StorageError, match=r"damaged|not a shop file"):
        for _ in range(3):
            view_today(file)
            create_trial(file, "Which clamp?")


def test_a_file_that_can_only_be_read_is_told(file: ShopFile, monkeypatch: pytest.MonkeyPatch) -> None:
    let_go(file.path)
    monkeypatch.setattr(ShopFile, "connect", lambda self, **_: connect_read_only(self))
    with pytest.raises(StorageError, match="can only be read"):
        create_trial(file, "Which clamp?")


def connect_read_only(file: ShopFile) -> sqlite3.Connection:
    connection = sqlite3.connect(f"file:{file.path}?mode=ro", uri=True, isolation_level=None)
    connection.row_factory = sqlite3.Row
    return connection


@pytest.mark.parametrize(
    ("sql", "kind"),
    [
        ("INSERT INTO factor (trial_id, rank, kind) VALUES (1, 9, '')", DataError),
        ("UPDATE trial SET joint = 'glued'", DataError),
        ("UPDATE trial SET fixture = ''", DataError),
        ("UPDATE trial SET grain_a = 'up'", DataError),
        ("INSERT INTO glue (name, family) VALUES ('Wren', 'jam')", DataError),
        ("INSERT INTO clamps (name, kind, number, force_n, force_typed) VALUES ('A', '', 1, 9, '9 N')", DataError),
        ("INSERT INTO setting (name, value) VALUES ('twice', '1'), ('twice', '2')", StateError),
    ],
)
def test_what_the_file_refuses_is_told_and_nothing_is_saved(file: ShopFile, sql: str, kind: type[AdhaeroError]) -> None:
    with pytest.raises(kind, match=r"Nothing was saved"), file.changing("a try") as connection:
        connection.execute(sql)


def test_a_mistake_of_the_program_is_no_trouble_of_the_file(file: ShopFile) -> None:
    with pytest.raises(sqlite3.OperationalError, match="no such column"), file.reading() as connection:
        connection.execute("SELECT qestion FROM trial")


def test_an_older_file_with_a_bad_word_is_read_again(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path, known = tmp_path / "shop.sqlite", migrating._migrations()
    monkeypatch.setattr(migrating, "_migrations", lambda: known[:5])
    create_old(path)
    monkeypatch.setattr(migrating, "_migrations", lambda: known)
    file = open_shop(path)
    with file.reading() as connection:
        assert connection.execute("SELECT kind FROM factor").fetchone()[0] == "own"
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"


def create_old(path: Path) -> None:
    old = open_shop(path)
    with old.changing("a bricked plan") as connection:
        connection.execute("INSERT INTO trial (question, seed, created_utc) VALUES ('Old?', 1, '2026-01-01T00:00:00Z')")
        connection.execute("INSERT INTO factor (trial_id, rank, kind) VALUES (1, 1, '')")


def test_whoever_waited_longest_writes_next_and_a_recorder_before_all() -> None:
    turns, order = Turns(), []
    waiting = []

    def write(name: str, urgent: bool) -> None:
        with turns.take(urgent=urgent):
            order.append(name)

    with turns.take():
        for name, urgent in (("first", False), ("second", False), ("recorder", True)):
            waiting.append(threading.Thread(target=write, args=(name, urgent)))
            waiting[-1].start()
            wait_for(lambda: len(turns._waiting) + len(turns._urgent) == len(waiting))
    for thread in waiting:
        thread.join()
    assert order == ["recorder", "first", "second"]
