"""The shop file: what it refuses to open, what a full disk leaves, what migrations do."""

import shutil
import sqlite3
import subprocess
import sys
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from adhaero.bench.over.today import view_today
from adhaero.bench.plan.trials import create_trial
from adhaero.core.errors import StorageError
from adhaero.store import connecting, migrating
from adhaero.store.connecting import let_go
from adhaero.store.file import open_shop
from adhaero.store.trials import list_quantities, list_trials


def test_a_new_file_is_made_and_opens_again(tmp_path: Path) -> None:
    path = tmp_path / "deep" / "shop.sqlite"
    create_trial(open_shop(path), "Which glue?")
    assert [trial.question for trial in view_today(open_shop(path)).trials] == ["Which glue?"]


def test_a_file_of_something_else_is_refused_and_left_alone(tmp_path: Path) -> None:
    path = tmp_path / "shop.sqlite"
    path.write_text("specimen,strength_MPa\n")
    with pytest.raises(StorageError, match="is not a shop file"):
        open_shop(path)
    assert path.read_text() == "specimen,strength_MPa\n"


def test_a_database_of_another_program_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "shop.sqlite"
    with closing(sqlite3.connect(path)) as other:
        other.execute("CREATE TABLE address (name TEXT)")
        other.commit()
    with pytest.raises(StorageError, match="a database, but not a shop file"):
        open_shop(path)


def test_a_file_of_a_newer_program_is_refused(tmp_path: Path) -> None:
    path = tmp_path / "shop.sqlite"
    open_shop(path)
    with closing(sqlite3.connect(path)) as newer:
        newer.execute("PRAGMA user_version = 9999")
    with pytest.raises(StorageError, match="newer Adhaero") as caught:
        open_shop(path)
    assert caught.value.do == "Update the program."


def test_an_edited_migration_is_noticed(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "shop.sqlite"
    open_shop(path)
    edited = [(number, name, sql + "\n-- edited\n") for number, name, sql in migrating._migrations()]
    monkeypatch.setattr(migrating, "_migrations", lambda: edited)
    with pytest.raises(StorageError, match="was edited after this file was made"):
        open_shop(path)


def test_a_migration_copies_the_file_first_and_fails_whole(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    path = tmp_path / "shop.sqlite"
    create_trial(open_shop(path), "Which glue?")
    known = migrating._migrations()
    newest = known[-1][0]
    broken = "CREATE TABLE clamp (id INTEGER PRIMARY KEY) STRICT;\nCREATE TABLE clamp (id INTEGER) STRICT;\n"
    monkeypatch.setattr(migrating, "_migrations", lambda: [*known, (newest + 1, "broken.sql", broken)])
    with pytest.raises(StorageError, match="already exists"):
        open_shop(path)
    assert path.with_name(f"shop.sqlite.before-{newest + 1:04d}").exists()
    monkeypatch.setattr(migrating, "_migrations", lambda: known)
    assert view_today(open_shop(path)).trials[0].question == "Which glue?"
    with closing(sqlite3.connect(path)) as file:
        assert file.execute("SELECT count(*) FROM sqlite_master WHERE name = 'clamp'").fetchone()[0] == 0
    good = "CREATE TABLE clamp (id INTEGER PRIMARY KEY) STRICT;\n"
    monkeypatch.setattr(migrating, "_migrations", lambda: [*known, (newest + 1, "clamps.sql", good)])
    assert view_today(open_shop(path)).trials


def test_a_full_disk_says_so_and_leaves_the_file_whole(tmp_path: Path) -> None:
    file = open_shop(tmp_path / "shop.sqlite")
    create_trial(file, "Which glue?")
    with closing(sqlite3.connect(file.path)) as connection:
        pages = connection.execute("PRAGMA page_count").fetchone()[0]
    full = replace(file, page_limit=pages)
    with pytest.raises(StorageError, match="disk is full") as caught:
        for number in range(500):
            create_trial(full, f"Question {number} " + "long " * 50)
    assert "Nothing was saved" in caught.value.sentence
    saved = len(view_today(file).trials)
    with closing(sqlite3.connect(file.path)) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
        assert connection.execute("SELECT count(*) FROM trial").fetchone()[0] == saved
        assert connection.execute("SELECT count(*) FROM open_change").fetchone()[0] == 0
    create_trial(file, "Room again")


def test_another_writer_is_told(tmp_path: Path, monkeypatch: pytest.MonkeyPatch) -> None:
    file = open_shop(tmp_path / "shop.sqlite")
    real = sqlite3.connect
    monkeypatch.setattr(connecting.sqlite3, "connect", lambda *a, **k: real(*a, **{**k, "timeout": 0.05}))
    with closing(real(file.path)) as other:
        other.execute("BEGIN IMMEDIATE")
        with pytest.raises(StorageError, match="Another program holds the shop file"):
            create_trial(file, "Which glue?")


def test_reading_cannot_write(tmp_path: Path) -> None:
    file = open_shop(tmp_path / "shop.sqlite")
    with pytest.raises(StorageError), file.reading() as connection:
        connection.execute("DELETE FROM trial")


def test_a_change_outside_the_log_is_refused(tmp_path: Path) -> None:
    """Every traced table writes its images into an open change: a write without one cannot happen."""
    file = open_shop(tmp_path / "shop.sqlite")
    with pytest.raises(sqlite3.IntegrityError), file.recording() as connection:
        connection.execute("INSERT INTO glue (name, family) VALUES ('Wren', 'fish')")


def test_a_file_that_takes_the_place_of_another_is_read_as_itself(tmp_path: Path) -> None:
    """Connections wait for their next use; they never stand for another file of the same name."""
    path, other = tmp_path / "shop.sqlite", tmp_path / "other.sqlite"
    create_trial(open_shop(path), "Which glue?")
    create_trial(open_shop(other), "Which joint?")
    file = open_shop(path)
    assert [one.question for one in view_today(file).trials] == ["Which glue?"]
    for name in ("-wal", "-shm"):
        path.with_name(path.name + name).unlink(missing_ok=True)
    let_go(other)
    with file.reading():  # even where it happens while someone reads
        other.replace(path)
    assert [one.question for one in view_today(file).trials] == ["Which joint?"]


def test_the_file_alone_is_whole_after_each_change(tmp_path: Path) -> None:
    file = open_shop(tmp_path / "shop.sqlite")
    view_today(file)
    create_trial(file, "Which glue?")
    copy = tmp_path / "copy.sqlite"
    shutil.copyfile(file.path, copy)  # as someone does it by hand, without what lies beside it
    assert [one.question for one in view_today(open_shop(copy)).trials] == ["Which glue?"]


def test_what_was_brought_in_before_anyone_was_asked_has_no_known_joint(
    tmp_path: Path, monkeypatch: pytest.MonkeyPatch
) -> None:
    known = migrating._migrations()
    monkeypatch.setattr(migrating, "_migrations", lambda: known[:13])
    path = tmp_path / "shop.sqlite"
    open_shop(path)
    with closing(sqlite3.connect(path)) as old:
        change = old.execute("INSERT INTO change (at_utc, what, undoable) VALUES ('2026', 'x', 1)").lastrowid
        old.execute("INSERT INTO open_change (change_id) VALUES (?)", (change,))
        for number in (1, 2):
            old.execute(
                "INSERT INTO trial (question, seed, created_utc, spread) VALUES (?, 7, '2026-01-05T08:00:00.000Z', ?)",
                (f"Question {number}?", "one coat"),
            )
            old.execute(
                "INSERT INTO quantity (trial_id, name, si, typed) VALUES (?, 'cure_time_s', 172800, '48 h')", (number,)
            )
        old.execute(
            "INSERT INTO source_file (trial_id, name, added_utc, sha256, content, reading)"
            " VALUES (2, 'tips.csv', '2026-01-05T08:00:00.000Z', ?, x'00', '{}')",
            ("0" * 64,),
        )
        old.execute("DELETE FROM open_change")
        old.commit()
    monkeypatch.setattr(migrating, "_migrations", lambda: known)
    with open_shop(path).reading() as connection:
        said = {one.id: (bool(one.joint_said), one.spread) for one in list_trials(connection)}
        assert said == {1: (True, "one coat"), 2: (False, "")}
        assert [bool(list_quantities(connection, number)) for number in said] == [number == 1 for number in said]


def test_another_program_that_comes_and_goes_takes_nothing_away(tmp_path: Path) -> None:
    """Connections that wait hold their locks, also after the file was opened once more, as a command does."""
    path = tmp_path / "shop.sqlite"
    count = "import sqlite3, sys; print(*sqlite3.connect(sys.argv[1]).execute('SELECT count(*) FROM trial').fetchone())"
    file = open_shop(path)
    for number in range(1, 4):
        create_trial(file, f"Question {number}?")
        open_shop(path)
        seen = subprocess.run([sys.executable, "-c", count, path], capture_output=True, text=True, check=True)
        assert int(seen.stdout) == number
        # the last one to close takes the log away: that is not the other program
        assert path.with_name(f"{path.name}-wal").exists()
    with closing(sqlite3.connect(path)) as connection:
        assert connection.execute("PRAGMA integrity_check").fetchone()[0] == "ok"
