"""A kept break is corrected with a reason: the old value stays, Compare names it, and it is no second loading."""

import io
from dataclasses import replace
from pathlib import Path

import pytest
from PIL import Image

from adhaero.bench.breaking.corrections import BreakValues, CorrectionEntry, SizeTyped, correct_break
from adhaero.bench.breaking.faces import add_face_photo, view_faces
from adhaero.bench.breaking.hand_break import break_by_hand
from adhaero.bench.breaking.judgement import FaceEntry, Judgement, judge_face
from adhaero.bench.breaking.pulls import retry_pull
from adhaero.bench.breaking.view import BreakPiece, view_break
from adhaero.bench.bringing.package_in import take_package
from adhaero.bench.bringing.package_out import export_package
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.breaks_file import export_breaks
from adhaero.bench.compare.report import export_report
from adhaero.bench.compare.view import view_compare
from adhaero.bench.cure.sizes import measure
from adhaero.bench.over.undo import undo
from adhaero.bench.shop.photos import read_photo
from adhaero.bench.shop.rigs import save_rig, view_rig
from adhaero.core.errors import EntryError, ReasonNeeded, StaleEdit, StateError
from adhaero.core.pulls import FailedIn, PullOutcome
from adhaero.store.rigs import list_rigs
from tests.shops import Shop, empty_shop, press, ready_shop, typed_break

KG = 9.80665
CARD = {"url": "", "simulated": False, "kind": "weights", "resolution": "0.5 kg"}


def broken(folder: Path) -> Shop:
    shop = ready_shop(folder)
    save_rig(shop.file, press(**CARD, tare="1 kg"))
    measure(shop.file, shop.trial, shop.pieces[0].id, "width_mm", "", "30 mm")
    break_by_hand(
        shop.file, shop.trial, typed_break(shop.pieces[0].id, "41.5 kg", Judgement("broke", "25", None, "dry"))
    )
    return shop


def the_piece(shop: Shop) -> BreakPiece:
    piece = view_break(shop.file, shop.trial, shop.pieces[0].id).piece
    assert piece is not None
    return piece


def correct(shop: Shop, reason: str = "digits swapped", **now: object) -> None:
    values = the_piece(shop).values
    assert values is not None
    entry = CorrectionEntry(values, replace(values, **now), reason)
    correct_break(shop.file, shop.trial, shop.pulls()[-1].id, entry)


def test_old_and_new_value_and_the_reason_stay_and_it_counts_as_one_loading(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    correct(shop, load="45.1 kg", wood_failure="50", failure=FailedIn.WOOD, note="dry, and knotty")
    piece = the_piece(shop)
    (pull,) = piece.pulls
    assert (pull.load_n, pull.load_typed) == (pytest.approx(46.1 * KG), "45.1 kg")
    assert (pull.wood_failure_pct, pull.failure, pull.note) == (50.0, "wood", "dry, and knotty")
    said = {one.words: (one.before, one.after, one.reason) for one in piece.corrections}
    assert said == {
        "load": ("41.5 kg", "45.1 kg", "digits swapped"),
        "torn wood": ("25 %", "50 %", "digits swapped"),
        "where it failed": ("nothing", "the wood", "digits swapped"),
        "note": ("dry", "dry, and knotty", "digits swapped"),
    }
    (words,) = [one for one in view_compare(shop.file, shop.trial, Choice()).mind if one.startswith("Corrected")]
    assert "load 41.5 kg → 45.1 kg: digits swapped" in words
    content = export_breaks(shop.file, shop.trial, Choice()).content
    assert "load: 41.5 kg → 45.1 kg (digits swapped)" in content
    assert not [one for one in view_compare(shop.file, shop.trial, Choice()).mind if "Loaded more than once" in one]


def test_a_load_is_made_by_the_card_as_it_was_then(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    with shop.file.reading() as connection:
        (rig,) = [view_rig(connection, one) for one in list_rigs(connection)]
    save_rig(shop.file, press(**CARD, tare="5 kg"), rig.id, rig.entry)
    correct(shop, load="45.1 kg")
    assert the_piece(shop).pulls[0].load_n == pytest.approx(46.1 * KG)


def test_sizes_time_and_outcome_are_corrected_too(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    shop.clock.forward(hours=3)
    later = shop.file.clock().replace(microsecond=0).isoformat()
    width = the_piece(shop).values.sizes[0]  # type: ignore[union-attr]
    assert width.typed == "30 mm"
    sizes = (SizeTyped(width.name, "29 mm"), *the_piece(shop).values.sizes[1:])  # type: ignore[union-attr]
    correct(shop, outcome=PullOutcome.HELD, broken_at=later, sizes=sizes)
    piece = the_piece(shop)
    assert (piece.pulls[0].outcome, piece.sizes[0].mm) == ("held", 29.0)
    assert piece.pulls[0].started_utc[:16] == later[:16]
    assert {one.words for one in piece.corrections} == {"what happened", "when it broke", "width"}


@pytest.mark.parametrize(
    ("reason", "now", "kind", "words"),
    [
        ("", {"load": "45 kg"}, ReasonNeeded, "says why"),
        ("why not", {}, EntryError, "Nothing is changed"),
        ("slip", {"load": "45 mm"}, EntryError, "is a length"),
        ("slip", {"wood_failure": "250"}, EntryError, "makes no sense"),
        ("slip", {"broken_at": "2019-01-01T00:00:00Z"}, EntryError, "was glued"),
    ],
)
def test_a_correction_that_cannot_be_changes_nothing(
    reason: str, now: dict[str, str], kind: type, words: str, tmp_path: Path
) -> None:
    shop = broken(tmp_path)
    with pytest.raises(kind, match=words):
        correct(shop, reason, **now)
    assert the_piece(shop).corrections == []
    assert the_piece(shop).pulls[0].load_typed == "41.5 kg"


def test_two_windows_do_not_correct_over_one_another(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    seen: BreakValues = the_piece(shop).values  # type: ignore[assignment]
    correct(shop, load="45.1 kg")
    with pytest.raises(StaleEdit):
        correct_break(
            shop.file, shop.trial, shop.pulls()[-1].id, CorrectionEntry(seen, replace(seen, load="40 kg"), "again")
        )


def test_a_correction_is_undone_whole(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    correct(shop, load="45.1 kg")
    undo(shop.file, shop.trial)
    assert (the_piece(shop).corrections, the_piece(shop).pulls[0].load_typed) == ([], "41.5 kg")


def test_a_measured_size_of_a_broken_piece_wants_a_reason_and_a_first_one_does_not(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    piece = shop.pieces[0].id
    with pytest.raises(ReasonNeeded, match="was measured: 30 mm"):
        measure(shop.file, shop.trial, piece, "width_mm", "30 mm", "29 mm")
    measure(shop.file, shop.trial, piece, "depth_mm", "", "9.1 mm")


def test_a_face_is_judged_later_once(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    pull = break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "600 N", Judgement("broke")))
    judge_face(shop.file, shop.trial, pull, FaceEntry("75", FailedIn.WOOD))
    assert (shop.pulls()[0].wood_failure_pct, the_piece(shop).corrections) == (75.0, [])
    with pytest.raises(ReasonNeeded, match="judged already"):
        judge_face(shop.file, shop.trial, pull, FaceEntry("25", FailedIn.WOOD))


def test_a_photo_of_a_face_is_shown_where_it_is_judged_and_leaves_with_the_trial(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    pull = break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "600 N", Judgement("broke")))
    out = io.BytesIO()
    Image.new("RGB", (90, 60), "tan").save(out, "PNG")
    photo = add_face_photo(shop.file, shop.trial, pull, out.getvalue())
    assert [one.photo_id for one in view_faces(shop.file, shop.trial).faces] == [photo]
    assert [one.photo_id for one in view_compare(shop.file, shop.trial, Choice()).dots] == [photo]
    assert "data:image/jpeg" in export_report(shop.file, shop.trial, Choice())
    other = empty_shop(tmp_path / "other.sqlite")
    there = take_package(other, "trial.zip", export_package(shop.file, shop.trial)).id
    (moved,) = view_compare(other, there, Choice()).dots
    assert moved.photo_id is not None
    assert read_photo(other, moved.photo_id) == read_photo(shop.file, photo)
    retry_pull(shop.file, shop.trial, pull)
    with pytest.raises(StateError, match="Only a kept one"):
        add_face_photo(shop.file, shop.trial, pull, out.getvalue())


def test_only_the_kept_pull_is_corrected(tmp_path: Path) -> None:
    shop = broken(tmp_path)
    seen = the_piece(shop).values
    assert seen is not None
    first = shop.pulls()[0].id
    retry_pull(shop.file, shop.trial, first)
    with pytest.raises(StateError, match="Only the kept one"):
        correct_break(shop.file, shop.trial, first, CorrectionEntry(seen, replace(seen, load="40 kg"), "x"))
