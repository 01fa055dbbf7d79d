"""The shop file: what it refuses to open, what a full disk leaves, what migrations do."""

import sqlite3
from contextlib import closing
from dataclasses import replace
from pathlib import Path

import pytest

from adhaero.bench.over.today import view_today
from adhaero.bench.plan.trials import create_trial
from adhaero.core.errors import StorageError
from adhaero.store import connecting, migrating
from adhaero.store.file import open_shop


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
