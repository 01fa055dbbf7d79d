"""What a person reads off a rig is made a load by its card, with its version; what is doubtful is asked once."""

from pathlib import Path

import pytest

from adhaero.bench.breaking.hand_break import HandBreak, break_by_hand
from adhaero.bench.breaking.judgement import Judgement
from adhaero.bench.breaking.rig_used import Reading, Weighed
from adhaero.bench.breaking.stacks import StackEntry, weigh_stack
from adhaero.bench.breaking.typed_load import TypedLoad, understand_load
from adhaero.bench.breaking.view import PullView
from adhaero.bench.compare.breaks import Choice
from adhaero.bench.compare.view import view_compare
from adhaero.bench.shop.plates import PlateEntry, save_plate
from adhaero.bench.shop.rigs import RigView, save_rig, view_rig
from adhaero.core.errors import AdhaeroError, EntryError, StaleEdit
from adhaero.store.rigs import list_rigs
from tests.shops import Shop, press, ready_shop, typed_break

KG = 9.80665
BROKE = Judgement("broke", "0")
LEVER = {"kind": "lever", "arm_piece": "100 mm", "arm_hung": "1 m", "lever": "2 kg", "balance": "450 mm"}
HANGER = {"kind": "lever", "lever_ratio": "4", "tare": "1.2 kg"}
JACK = {"kind": "jack", "bore": "35 mm", "gauge_unit": "bar", "capacity": "250 bar", "resolution": "5 bar"}


def shop_with(folder: Path, **card: str) -> Shop:
    shop = ready_shop(folder)
    save_rig(shop.file, press(url="", simulated=False, **card))
    return shop


def understand(shop: Shop, typed: str, **more: object) -> TypedLoad:
    return understand_load(shop.file, shop.trial, shop.pieces[0].id, Reading(load=typed, **more))  # type: ignore[arg-type]


def the_rig(shop: Shop) -> RigView:
    with shop.file.reading() as connection:
        (rig,) = list_rigs(connection)
        return view_rig(connection, rig)


def change_rig(shop: Shop, **card: str) -> None:
    rig = the_rig(shop)
    save_rig(shop.file, press(url="", simulated=False, **card), rig.id, rig.entry)


def keep(shop: Shop, at: int = 0, **more: object) -> PullView:
    break_by_hand(shop.file, shop.trial, HandBreak(piece=shop.pieces[at].id, judgement=BROKE, **more))  # type: ignore[arg-type]
    return shop.pulls(at)[-1]


@pytest.mark.parametrize(
    ("card", "typed", "load_n", "words"),
    [
        (
            {"kind": "lever", "lever_ratio": "4", "tare": "1.2 kg"},
            "10 kg",
            439.3,
            "10 kg + hanger 1.2 kg, × 4 = 0.4393 kN",
        ),
        ({"kind": "lever", "lever_ratio": "2.5"}, "100 N", 250.0, "100 N × 2.5 = 0.25 kN"),
        (LEVER, "10 kg", 1068.9, "10 kg × 10, + lever 88.26 N = 1.069 kN"),
        ({"kind": "weights", "tare": "0.8 kg"}, "20 kg", 203.98, "20 kg + hanger 0.8 kg = 0.204 kN"),
        ({"kind": "bucket", "tare": "600 g"}, "9.4 kg", 92.18, "9.4 kg = 0.09218 kN"),
        ({"kind": "scale"}, "45 kg", 441.3, "45 kg = 0.4413 kN"),
        ({"kind": "scale"}, "20 kg + 12.5 kg", 318.7, "20 kg + 12.5 kg = 0.3187 kN"),
        (JACK, "120", 11545.4, "120 bar on 35 mm = 11.55 kN"),
        (JACK, "1 ksi", 6633.6, "1 ksi on 35 mm = 6.634 kN"),
        (JACK, "2.4 kN", 2400.0, "2.4 kN = 2.4 kN"),
    ],
)
def test_what_is_typed_goes_through_the_rig_and_says_so(
    card: dict[str, str], typed: str, load_n: float, words: str, tmp_path: Path
) -> None:
    shop = shop_with(tmp_path, **card)
    understood = understand(shop, typed)
    assert understood.load_n == pytest.approx(load_n, rel=1e-4)
    assert understood.words == words
    kept = keep(shop, load=typed)
    assert kept.load_n == pytest.approx(load_n, rel=1e-4)
    assert f"{kept.load_typed} {kept.load_through}".strip() == words.partition(" = ")[0]


def test_a_bucket_is_weighed_full_or_filled_with_water(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="bucket", tare="1 kg")
    assert understand(shop, "9 kg", weighed=Weighed.INSIDE).load_n == pytest.approx(10 * KG)
    assert understand(shop, "9 l", weighed=Weighed.INSIDE).load_n == pytest.approx((1 + 9 * 0.9982) * KG)
    with pytest.raises(EntryError, match="it is heavier"):
        understand(shop, "0.8 kg")
    kept = keep(shop, load="12 kg", hold="90 s")
    assert (kept.load_n, kept.hold_typed) == (pytest.approx(12 * KG), "90 s")


def test_a_bound_and_a_range_are_kept_as_such_and_about_is_known_half_as_well(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="scale", resolution="1 kg", capacity="200 kg")
    held, between, about = (
        keep(shop, 0, load="60 kg+"),
        keep(shop, 1, load="30–35 kg"),
        keep(shop, 2, load="about 35 kg"),
    )
    assert (held.outcome, held.load_n, held.load_typed) == ("held", pytest.approx(60 * KG), "60 kg+")
    assert (between.outcome, between.held_n, between.load_n) == (
        "broke",
        pytest.approx(30 * KG),
        pytest.approx(35 * KG),
    )
    assert about.resolution_n == pytest.approx(2 * KG)
    assert understand(shop, "about 35 kg").words == "about 35 kg = 0.3432 kN, known to 0.01961 kN only"


def test_a_last_weight_that_held_goes_through_the_rig_too(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="lever", lever_ratio="4", tare="1 kg")
    with pytest.raises(EntryError, match="is below the one that broke it"):
        keep(shop, load="10 kg", held="10 kg")
    assert keep(shop, load="10 kg", held="9 kg").held_n == pytest.approx(4 * 10 * KG)


def test_plates_are_kept_as_they_hung_and_as_a_range(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="weights", tare="2 kg", handle="30 kg")
    tens, fives = (save_plate(shop.file, PlateEntry(weight, "3")) for weight in ("10 kg", "5 kg"))
    pull = keep(shop, stacks=((tens,), (tens, tens), (tens, tens, fives)))
    assert (pull.held_n, pull.load_n) == (pytest.approx(22 * KG), pytest.approx(27 * KG))
    assert (pull.load_typed, pull.held_typed, pull.load_through) == ("2 × 10 kg + 5 kg", "2 × 10 kg", "+ hanger 2 kg")
    view = weigh_stack(shop.file, shop.trial, StackEntry(shop.pieces[1].id, (tens, tens)), None)
    assert view.load_n == pytest.approx(22 * KG)
    assert view.beyond == {tens: "beyond what its handle carries (30 kg)"}
    with pytest.raises(EntryError, match="no plates 99 in the shop"):
        keep(shop, 1, stacks=((99,),))


def test_a_load_unloaded_and_loaded_again_is_a_try_of_its_own(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="scale")
    break_by_hand(
        shop.file, shop.trial, HandBreak(piece=shop.pieces[0].id, judgement=Judgement("held"), load="30 kg", again=True)
    )
    last = keep(shop, load="45 kg")
    assert [(one.state, one.attempt) for one in shop.pulls()] == [("retried", 1), ("kept", 2)]
    assert last.load_n == pytest.approx(45 * KG)


def test_every_hand_break_keeps_its_rig_and_the_version_of_its_card(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="weights", tare="1 kg", resolution="1 kg")
    first = keep(shop, 0, load="20 kg")
    change_rig(shop, kind="weights", tare="1.5 kg", resolution="1 kg")
    second = keep(shop, 1, load="20 kg")
    no_rig = keep(shop, 2, load="20 kg", no_rig=True)
    assert (first.rig, first.version, second.version) == ("Press", 1, 2)
    assert [one.load_n for one in (first, second, no_rig)] == [pytest.approx(kg * KG) for kg in (21, 21.5, 20)]
    assert (no_rig.rig, no_rig.version) == ("", None)
    change_rig(shop, kind="weights", tare="1.5 kg", resolution="1 kg", guide="two rails")
    assert the_rig(shop).version == 3
    change_rig(shop, kind="weights", tare="1.5 kg", resolution="1 kg", guide="one rail")
    assert the_rig(shop).version == 3, "a version that nothing was broken on takes the new card"


def test_a_load_typed_for_a_rig_that_sends_lines_stands_as_typed(tmp_path: Path) -> None:
    """Its calibration is of its lines, whose zero is taken at each pull."""
    shop = ready_shop(tmp_path)
    save_rig(shop.file, press(offset="1.8", factor="2"))
    assert keep(shop, load="60 kg").load_n == pytest.approx(60 * KG)


def test_a_card_that_changed_while_a_load_was_typed_is_said(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="weights", tare="1 kg")
    keep(shop, 0, load="20 kg", version=1)
    change_rig(shop, kind="weights", tare="2 kg")
    with pytest.raises(StaleEdit, match="version 2 now"):
        keep(shop, 1, load="20 kg", version=1)


@pytest.mark.parametrize(
    ("typed", "code", "answer"),
    [
        ("415 lb", "slip", "415 kg"),
        ("4200 kg", "slip", "420 kg"),
        ("4120 kg", "slip", "4120 N"),
        ("420.3 kg", "step", ""),
    ],
)
def test_a_slip_is_asked_about_with_what_it_would_be(typed: str, code: str, answer: str, tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="scale", resolution="1 kg", capacity="5000 kg")
    for at, load in enumerate((400, 430, 420, 410, 415, 425, 405), start=1):
        keep(shop, at, load=f"{load} kg")
    (doubt, *_) = [one for one in understand(shop, typed).doubts if one.code == code] or [None]
    assert doubt is not None
    assert not answer or answer in doubt.answers
    kept = keep(shop, 0, load=typed)
    assert code in kept.codes


@pytest.mark.parametrize(
    ("at_utc", "words"),
    [("2030-01-01T00:00:00Z", "not come yet"), ("2020-01-01T00:00:00Z", "was glued"), ("yesterday", "is not a time")],
)
def test_a_break_of_another_time_lies_between_its_glue_up_and_now(at_utc: str, words: str, tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="scale")
    with pytest.raises(EntryError, match=words):
        keep(shop, load="40 kg", at_utc=at_utc)


def test_a_break_of_the_evening_before_has_its_own_time_and_comes_after_earlier_tries(tmp_path: Path) -> None:
    shop = shop_with(tmp_path, kind="scale")
    shop.clock.forward(hours=20)
    evening = shop.file.clock().replace(microsecond=0)
    shop.clock.forward(hours=10)
    held = Judgement("held")
    entry = HandBreak(piece=shop.pieces[0].id, judgement=held, load="20 kg", again=True, at_utc=evening.isoformat())
    break_by_hand(shop.file, shop.trial, entry)
    with pytest.raises(EntryError, match="was loaded before"):
        keep(shop, load="40 kg", at_utc=evening.replace(hour=evening.hour - 1).isoformat())
    assert keep(shop, load="40 kg", at_utc=evening.isoformat()).started_utc.startswith(evening.isoformat()[:16])


@pytest.mark.parametrize(
    ("card", "field"),
    [
        ({"kind": "lever"}, "lever_ratio"),
        ({"kind": "lever", "arm_hung": "1 m"}, "arm_piece"),
        ({"kind": "lever", "arm_piece": "100 mm", "arm_hung": "1 m", "lever_ratio": "8"}, "lever_ratio"),
        ({"kind": "lever", "arm_piece": "100 mm", "arm_hung": "1 m", "lever": "2 kg"}, "balance"),
        ({"kind": "jack", "gauge_unit": "bar"}, "bore"),
        ({"kind": "scale", "check_give": "1 kg"}, "check"),
    ],
)
def test_a_card_that_makes_no_load_is_refused_at_its_field(card: dict[str, str], field: str, tmp_path: Path) -> None:
    with pytest.raises(AdhaeroError) as caught:
        shop_with(tmp_path, **card)
    assert caught.value.field == field


def test_breaks_typed_before_keep_their_number_and_are_named(tmp_path: Path) -> None:
    shop = ready_shop(tmp_path)
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[0].id, "700 N", BROKE))
    assert not [words for words in view_compare(shop.file, shop.trial, Choice()).mind if "Typed without" in words]
    save_rig(shop.file, press(url="", simulated=False, kind="lever", lever_ratio="4"))
    break_by_hand(shop.file, shop.trial, typed_break(shop.pieces[1].id, "170 N", BROKE))
    assert [pull.load_n for pull in (*shop.pulls(0), *shop.pulls(1))] == [700.0, 680.0]
    (words,) = [words for words in view_compare(shop.file, shop.trial, Choice()).mind if "Typed without" in words]
    assert shop.pieces[0].label in words
    assert shop.pieces[1].label not in words
