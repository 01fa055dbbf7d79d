"""What a rig's card means for a load, now and as it was when a piece was broken."""

from typing import Final

from adhaero.core.quantity import Kind, factor
from adhaero.core.rig.entry.card import Card, find_own_load
from adhaero.core.rig.kinds import FORMS, LoadEntry, RigKind
from adhaero.store.rigs import CalibrationRow, Rig

Meaning = dict[str, float | str | None]

# the columns that change what a number means, in words
MEANING_WORDS: Final = {
    "kind": "what it is",
    "unit": "the unit it prints",
    "capacity_n": "how much it pulls",
    "resolution_n": "its steps",
    "gauge_unit": "the gauge's unit",
    "bore_mm": "the bore of the ram",
    "lever_ratio": "the ratio of the lever",
    "arm_piece_mm": "the arm of the piece",
    "arm_hung_mm": "the arm of what hangs",
    "lever_n": "the weight of the lever",
    "balance_mm": "where the lever balances",
    "tare_n": "hanger or bucket",
    "fixtures": "the fixtures it takes",
    "guide": "its guide",
    "displacement_unit": "the unit of its displacement",
}
# what hangs or was weighed is known by its own weight, not by what the rig shows
WEIGHED: Final = (LoadEntry.PLATES, LoadEntry.BUCKET, LoadEntry.FACE)
_SAME: Final = 1e-9
_TYPED: Final = ("capacity_typed", "resolution_typed", "bore_typed", "tare_typed", "lever_typed")


def read_meaning(rig: Rig) -> Meaning:
    """Return what a rig's card means, by the names of its columns."""
    return {name: getattr(rig, name) for name in (*MEANING_WORDS, *_TYPED)}


def list_differences(older: Meaning, newer: Meaning) -> list[str]:
    """Return in words what differs between two cards."""
    return [words for name, words in MEANING_WORDS.items() if older.get(name) != newer.get(name)]


def make_card(meaning: Meaning, calibration: CalibrationRow | None = None) -> Card:
    """Return what makes a load of a reading; weights that are known need no calibration."""

    def number(name: str) -> float | None:
        value = meaning.get(name)
        return float(value) if isinstance(value, int | float) else None

    kind = RigKind(str(meaning["kind"]))
    zero_n, scale = 0.0, 1.0
    if calibration is not None and FORMS[kind].entry not in WEIGHED:
        nominal = factor(Kind.FORCE, str(meaning["unit"]))
        zero_n, scale = calibration.offset_reading * nominal, calibration.newton_per_unit / nominal
    lever, balance, arm = number("lever_n"), number("balance_mm"), number("arm_piece_mm")
    return Card(
        kind=kind,
        tare_n=number("tare_n") or 0.0,
        ratio=number("lever_ratio") or 1.0,
        own_n=find_own_load(lever, balance, arm) if lever and balance and arm else 0.0,
        bore_mm=number("bore_mm"),
        resolution_n=number("resolution_n") or 0.0,
        capacity_n=number("capacity_n"),
        zero_n=zero_n,
        scale=1.0 if abs(scale - 1) < _SAME else scale,
        gauge_unit=str(meaning.get("gauge_unit") or ""),
        tare_typed=str(meaning.get("tare_typed") or ""),
        bore_typed=str(meaning.get("bore_typed") or ""),
    )
