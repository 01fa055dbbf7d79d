"""The tidy breaks file of a trial, and the command that analyses it as Compare does."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from typing import Final

from adhaero.bench.breaking.corrections import say_correction
from adhaero.bench.compare.breaks import BLOCK, Choice, collect_breaks, count_attempts, make_specimen, slug_of
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import FORMS as JOINTS
from adhaero.core.joint import Joint
from adhaero.core.plan.fields import QUANTITIES
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.core.stats.analyse import Question
from adhaero.core.stats.breaks import Estimate, Specimen
from adhaero.files.tidy_csv import write_tidy
from adhaero.store.file import ShopFile
from adhaero.store.pieces import Piece
from adhaero.store.pulls import Pull


@dataclass(frozen=True)
class TidyFile:
    """A tidy breaks file and the command that analyses it as the screen does; another for several things varied."""

    name: str
    content: str
    command: str
    factors_command: str


def export_breaks(file: ShopFile, trial_id: int, choice: Choice) -> TidyFile:
    """Return the tidy breaks file of a trial, all digits kept."""
    with file.reading() as connection:
        return tell_breaks(read_trial(connection, trial_id), choice)


def tell_breaks(facts: PieceFacts, choice: Choice) -> TidyFile:
    """Return the tidy breaks file of what is written of a trial."""
    breaks = collect_breaks(facts, choice)
    question, by = breaks.question, breaks.question.by
    sizes = name_size_columns(facts.fixture, facts.joints)
    varied = {} if len(facts.factors) == 1 else _name_columns(facts)
    columns = [
        "specimen",
        by,
        *varied.values(),
        "board",
        "species",
        facts.response,
        f"held_{facts.response}",
        question.response,
        f"held_{question.response}",
        "outcome",
        "wood_failure_pct",
        "excluded",
        "load_N",
        *sizes,
    ]
    columns += [
        "sizes_from_plan",
        "tries",
        "looked_odd",
        "failure",
        "glue_up",
        "clamped_s",
        "rig",
        "rig_version",
        "calibration",
        "fixture",
        "broken_at",
        "age_s",
        "load_typed",
        "held_typed",
        "resolution_N",
        "hold_s",
        "pried_with",
        "rate_N_per_s",
        "stood_s",
        "sagged_N",
        *_MOVED,
        "corrections",
        "note",
    ]
    levels = {one.level for one in breaks.compared}
    rows = [
        _tidy_row(facts, piece, one, question, sizes, varied)
        for piece, one in zip(breaks.pieces, breaks.specimens, strict=True)
        if one.level in levels
    ]
    name = f"adhaero-trial-{facts.trial.id}-breaks.csv"
    options = f" --block {BLOCK}" if question.block else ""
    options += f' --control "{question.control}"' if question.control else ""
    options += f" --estimate {question.estimate}" if question.estimate is not Estimate.JOINT else ""
    margin = "" if question.margin_pct == Question.margin_pct else f" --margin {question.margin_pct!r}"
    if question.confidence != Question.confidence:
        options += f" --confidence {100 * question.confidence!r}"
    start = f"adhaero analyse {name} --response {question.response}"
    each = "".join(f" --by {column}" for column in varied.values())
    return TidyFile(
        name,
        write_tidy(list(dict.fromkeys(columns)), rows),
        f"{start} --by {by}{options}{margin}",
        f"{start}{each}{options}{margin}" if len(varied) > 1 and question.control is None else "",
    )


def name_size_columns(fixture: Fixture, joints: Sequence[Joint]) -> list[str]:
    """Return the columns of sizes from which every strength of a trial can be computed again."""
    needed = list(FIXTURES[fixture].sizes)
    if "area_mm2" in needed:
        needed += [name for joint in joints for name in JOINTS[joint].sizes]
    return sorted(dict.fromkeys(needed), key=lambda name: list(QUANTITIES).index(name) if name in QUANTITIES else -1)


def _name_columns(facts: PlanFacts) -> dict[int, str]:
    """Return a column for each thing that is varied, none named like another."""
    found: dict[int, str] = {}
    for factor in facts.factors.values():
        slug = slug_of(facts, factor)
        found[factor.id] = next(
            name for name in (slug, *(f"{slug}_{n}" for n in range(2, 9))) if name not in found.values()
        )
    return found


def _tidy_row(
    facts: PieceFacts, piece: Piece, one: Specimen, question: Question, sizes: Sequence[str], varied: Mapping[int, str]
) -> dict[str, object]:
    strength = facts.each(make_specimen)[piece.id] or one
    result = facts.result_of(piece)
    batch = facts.batches.get(piece.batch_id or 0)
    used = facts.sizes_of(piece)
    made = facts.treatments[piece.treatment_id].kind == TreatmentKind.MADE
    levels = {level.factor_id: level.name for level in facts.levels_of.get(piece.treatment_id, ())} if made else {}
    return {
        "specimen": one.label,
        question.by: one.level,
        **{name: levels.get(factor_id, "") for factor_id, name in varied.items()},
        "board": one.block,
        "species": facts.boards[piece.board_id].species,
        facts.response: strength.value,
        f"held_{facts.response}": strength.held_value,
        "outcome": one.outcome.value,
        "wood_failure_pct": one.wood_failure_pct,
        "excluded": one.excluded,
        "load_N": result.load_n if result else None,
        **{name: used.get(name) for name in sizes},
        "sizes_from_plan": " ".join(facts.unmeasured(piece)),
        "tries": count_attempts(facts, piece),
        "looked_odd": piece.odd_reason,
        "failure": result.failure if result else None,
        "glue_up": batch.number if batch else None,
        "clamped_s": facts.life_of(piece).clamped_s,
        "fixture": facts.fixture.value,
        "note": result.note if result else "",
        **_tell_pull(result),
        "age_s": facts.age_of(piece),
        "corrections": "; ".join(say_correction(one) for one in facts.corrections.get(piece.id, ())),
        **{name.replace(" ", "_"): value for name, value in one.circumstances.items()},
        question.response: one.value,
        f"held_{question.response}": one.held_value,
    }


# what a displacement says, by the column of a pull
_MOVED: Final = {
    "stiffness_N_per_mm": "stiffness_n_per_mm",
    "bend_starts_N": "bend_starts_n",
    "bend_starts_by_span_N": "bend_by_span_n",
    "work_J": "energy_j",
    "stayed_bent_mm": "stayed_bent_mm",
    "reached_mm": "reached_mm",
    "dial_typed": "dial_typed",
}


def _tell_pull(result: Pull | None) -> dict[str, object]:
    """Return how the load of a break is known: when, as typed, to what step."""
    if result is None:
        return {}
    return {
        "broken_at": "" if result.undated else result.started_utc,
        "load_typed": f"{result.load_typed} {result.load_through}".strip(),
        "held_typed": result.held_typed,
        "resolution_N": result.resolution_n,
        "hold_s": result.hold_s,
        "pried_with": result.pried_with.value,
        "rate_N_per_s": result.rate_n_per_s,
        "stood_s": result.stood_s,
        "sagged_N": result.sagged_n,
        **{column: getattr(result, name) for column, name in _MOVED.items()},
    }
