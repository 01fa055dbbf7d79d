"""How the breaks came about that stand beside a result: corrected, doubted, on one rig or on several."""

from collections.abc import Sequence
from statistics import median

from adhaero.bench.breaking.corrections import say_field
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.core.stats.words import list_some
from adhaero.store.pieces import Piece


def say_corrected(facts: PieceFacts, piece: Piece) -> str:
    """Return what of a piece's break was corrected, and why; empty where nothing was."""
    said = [
        f"{say_field(one.field)} {one.before or 'nothing'} → {one.after or 'nothing'}: {one.reason}"
        for one in facts.corrections.get(piece.id, ())
    ]
    return "; ".join(said)


def was_doubted(facts: PieceFacts, piece: Piece) -> bool:
    """Return whether the load of a piece was asked about, kept as it was typed, and not corrected since."""
    result = facts.result_of(piece)
    return (
        result is not None
        and result.source == "hand"
        and bool(result.flag_codes)
        and not any(one.field == "load" for one in facts.corrections.get(piece.id, ()))
    )


def list_mixed(facts: PieceFacts, used: Sequence[Piece]) -> list[str]:
    """Return sentences for sets whose own pieces, and for pairs whose two halves, were not broken on one rig alike."""
    sets: dict[str, set[str]] = {}
    pairs: dict[int, list[tuple[str, str]]] = {}
    for piece in used:
        result = facts.result_of(piece)
        if result is None or piece.excluded_reason is not None:
            continue
        version = facts.versions.get(result.version_id or 0)
        rig = facts.name_rig(result) + (f", version {version.number}" if version else "")
        rig += f", calibration {result.calibration_id}" if result.calibration_id else ""
        sets.setdefault(facts.treatments[piece.treatment_id].name, set()).add(rig)
        if piece.pair is not None:
            pairs.setdefault(piece.pair, []).append((piece.label, rig))
    mixed = [f"{name}: {'; '.join(sorted(rigs))}" for name, rigs in sets.items() if len(rigs) > 1]
    across = [" and ".join(label for label, _ in both) for both in pairs.values() if len({rig for _, rig in both}) > 1]
    found = (
        [f"Broken on more than one rig, card or calibration within a set: {list_some(mixed, '. ')}."] if mixed else []
    )
    if across:
        found.append(f"Pairs whose rig changed between their two pieces: {list_some(across)}.")
    return found


_TWICE = 2.0


def list_speeds(facts: PieceFacts, used: Sequence[Piece]) -> list[str]:
    """Return a sentence where one set was loaded twice as fast as another: fast loading makes wood look stronger."""
    rates: dict[str, list[float]] = {}
    for piece in used:
        result = facts.result_of(piece)
        if result is None or piece.excluded_reason is not None or not result.rate_n_per_s or result.rate_n_per_s <= 0:
            continue
        rate = facts.strength_of(piece, result.rate_n_per_s)
        if rate:
            rates.setdefault(facts.treatments[piece.treatment_id].name, []).append(rate)
    middles = sorted((median(values), name) for name, values in rates.items())
    if len(middles) < 2 or middles[-1][0] < _TWICE * middles[0][0]:
        return []
    (slow, slowest), (fast, fastest) = middles[0], middles[-1]
    unit = "N·m" if facts.response.endswith("Nm") else "MPa"
    return [
        f"{fastest} was loaded {fast / slow:.1f} times as fast as {slowest} ({fast:.2g} against {slow:.2g} {unit}/s "
        "in the middle): fast loading makes a joint look stronger."
    ]


def list_stood(facts: PieceFacts, used: Sequence[Piece]) -> list[str]:
    """Return a sentence on the sets whose pieces stood at one load on the way: how long, and how far they sagged."""
    stood: dict[str, list[tuple[float, float]]] = {}
    number: dict[str, int] = {}
    for piece in used:
        result = facts.result_of(piece)
        if result is None or piece.excluded_reason is not None or result.rate_n_per_s is None:
            continue
        name = facts.treatments[piece.treatment_id].name
        number[name] = number.get(name, 0) + 1
        if result.stood_s is not None and result.load_n:
            stood.setdefault(name, []).append((result.stood_s, 100 * (result.sagged_n or 0.0) / result.load_n))
    if not stood:
        return []
    said = [
        f"{name}: {len(mine)} of {number[name]}, {median(lasted for lasted, _ in mine):.0f} s, sagging by "
        f"{median(sag for _, sag in mine):.1f} %"
        for name, mine in stood.items()
    ]
    return [f"Stood at one load for 5 s or more on the way (in the middle): {list_some(said, '; ')}."]
