"""What to mind about a comparison, in plain sentences."""

from collections.abc import Sequence

import numpy as np

from adhaero.core.stats.breaks import Outcome, Specimen

FEW = 5
FAR = 3.5
SHORT = 1.1
_MAD_TO_SD = 1.4826


def list_warnings(
    specimens: Sequence[Specimen],
    levels: Sequence[str],
    *,
    blocked: bool,
    boards_left_out: Sequence[str] = (),
    estimated: bool = True,
    short: float = 1.0,
) -> tuple[str, ...]:
    """Return the warnings about a table of breaks (as judged by the estimate, excluded pieces included).

    Parameters
    ----------
    boards_left_out : boards that tell nothing, all their pieces being bounds to one side.
    estimated : whether the model of the breaks has an answer at all.
    short : how many times wider its ranges should be (`SetsFit.short`).
    """
    groups: dict[str, list[Specimen]] = {level: [] for level in levels}
    for one in specimens:
        if one.excluded is None:
            groups[one.level].append(one)
    warnings = [
        f"{level} has {_pieces(len(members))}: below {FEW} the scatter is hardly known."
        for level, members in groups.items()
        if len(members) < FEW
    ]
    for members in groups.values():
        warnings += _far_out(members)
    for level, members in groups.items():
        censored = sum(one.outcome is not Outcome.BROKE for one in members)
        if members and censored * 2 > len(members):
            warnings.append(
                f"{censored} of {len(members)} pieces in {level} did not simply break: little is known of it."
            )
    if not estimated:
        warnings.append("The pieces that are bounds leave the scatter open: no typical value can be estimated.")
    if short > SHORT:
        wider = "several times as wide" if short > 3 else f"about {round(100 * (short - 1), -1):.0f} % wider"
        warnings.append(
            "Pieces that are bounds are judged by a rule for many pieces: "
            f"take the ranges as {wider}, or ask for few pieces (--few-pieces)."
        )
    warnings += [f"All pieces of board {name} are bounds to one side: it tells nothing." for name in boards_left_out]
    if blocked:
        warnings += _incomplete_blocks(groups)
    for name in ("rig", "calibration", "fixture"):
        warnings += _differing(groups, name)
    return (*warnings, *_swapped_when_put_back(specimens, levels))


def _pieces(count: int) -> str:
    return f"{count} piece" if count == 1 else f"{count} pieces"


def _far_out(members: Sequence[Specimen]) -> list[str]:
    broke = [one for one in members if one.outcome is Outcome.BROKE and one.value]
    if len(broke) < 3:
        return []
    logs = np.log([one.value or 1.0 for one in broke])
    spread = float(np.median(np.abs(logs - np.median(logs)))) * _MAD_TO_SD
    if spread == 0:
        return []
    away = (logs - np.median(logs)) / spread
    return [
        f"{one.label} is far {'below' if distance < 0 else 'above'} the rest of {one.level} "
        f"({abs(distance):.1f} times its usual scatter): look at the piece; it is not dropped."
        for one, distance in zip(broke, away, strict=True)
        if abs(distance) > FAR
    ]


def _incomplete_blocks(groups: dict[str, list[Specimen]]) -> list[str]:
    on = {level: {one.block for one in members} for level, members in groups.items()}
    blocks = list(dict.fromkeys(one.block for members in groups.values() for one in members if one.block))
    lacking = [(block, [level for level, held in on.items() if block not in held]) for block in blocks]
    return [f"Board {block} holds no {_listed(missing)}." for block, missing in lacking if missing]


def _listed(names: Sequence[str]) -> str:
    return names[0] if len(names) == 1 else f"{', '.join(names[:-1])} and no {names[-1]}"


def _differing(groups: dict[str, list[Specimen]], name: str) -> list[str]:
    used = {
        level: frozenset(one.circumstances[name] for one in members if one.circumstances.get(name))
        for level, members in groups.items()
    }
    known = {level: values for level, values in used.items() if values}
    if len(set(known.values())) < 2:
        return []
    listed = "; ".join(f"{level}: {', '.join(sorted(values))}" for level, values in known.items())
    return [f"Not all sets were broken with the same {name} ({listed}): a difference may come from that."]


def _swapped_when_put_back(specimens: Sequence[Specimen], levels: Sequence[str]) -> list[str]:
    def ranking(everything: bool) -> list[str]:
        means = {}
        for level in levels:
            values = [
                one.value
                for one in specimens
                if one.level == level and one.value is not None and (everything or one.excluded is None)
            ]
            if values:
                means[level] = sum(values) / len(values)
        return sorted(means, key=lambda level: -means[level])

    now, all_back = ranking(False), ranking(True)
    for i, first in enumerate(now):
        for second in now[i + 1 :]:
            if all_back.index(first) > all_back.index(second):
                return [f"With the pieces set aside put back, {first} and {second} swap places."]
    return []
