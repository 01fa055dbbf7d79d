"""Today: what is in clamps, what is ready, what comes next, over all trials."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass
from datetime import datetime
from functools import partial
from itertools import groupby

from adhaero.bench.cure.panels import list_pull_dates, say_panels
from adhaero.bench.facts.piece_facts import PieceFacts
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.over.rack import Station, count_flow
from adhaero.bench.shop.view import is_demo
from adhaero.bench.timetable.view import TaskView, list_coming
from adhaero.core.glue import GlueFamily, caution_for
from adhaero.core.pieces import PieceState
from adhaero.store.file import ShopFile, to_text
from adhaero.store.glues import list_glues
from adhaero.store.pieces import Piece
from adhaero.store.rigs import list_rigs
from adhaero.store.timetables import TaskRow, list_tasks
from adhaero.store.trials import list_trials


@dataclass(frozen=True)
class TrialLine:
    """A trial in the list of trials."""

    id: int
    question: str
    practice: bool
    flow: list[Station]
    words: str
    station: str


@dataclass(frozen=True)
class ClampLine:
    """Pieces that are in clamps together; `due_utc` None without a planned clamp time."""

    trial_id: int
    question: str
    piece_ids: list[int]
    labels: list[str]
    words: str
    clamped_utc: str
    due_utc: str | None
    batch: int | None


@dataclass(frozen=True)
class ReadyLine:
    """Pieces of a trial that are ready to break."""

    trial_id: int
    question: str
    joint: str
    labels: list[str]


@dataclass(frozen=True)
class NextEvent:
    """Something that comes by itself."""

    at_utc: str
    trial_id: int
    words: str


@dataclass(frozen=True)
class RemovedTrial:
    """A trial that was removed and can be put back."""

    id: int
    question: str


@dataclass(frozen=True)
class TodayView:
    """Everything that Today shows."""

    now_utc: str
    demo: bool
    trials: list[TrialLine]
    clamps: list[ClampLine]
    ready: list[ReadyLine]
    coming: list[NextEvent]
    cautions: list[str]
    glues: int
    rigs: int
    removed: list[RemovedTrial]


def view_today(file: ShopFile) -> TodayView:
    """Return what stands over all trials now."""
    now = file.clock()
    with file.reading() as connection:
        standing = [
            stand(read_trial(connection, trial.id), list_tasks(connection, trial.id), now)
            for trial in list_trials(connection)
        ]
        removed = [RemovedTrial(trial.id, trial.question) for trial in list_trials(connection, removed=True)]
        glues, rigs, demo = list_glues(connection), list_rigs(connection), is_demo(connection)
    families = {glue.name: GlueFamily(glue.family) for glue in glues}
    clamped = [line for one in standing for line in list_clamp_lines(one)]
    in_use = {
        one.facts.glue_of(one.facts.treatments[piece.treatment_id])
        for one in standing
        for state in (PieceState.SAWN, PieceState.CLAMPED)
        for piece in one.by_state[state]
    }
    cautions = [f"{name}: {caution_for(families[name])}" for name in sorted(in_use) if name in families]
    return TodayView(
        now_utc=to_text(now),
        demo=demo,
        trials=[_trial_line(one) for one in standing],
        clamps=sorted(clamped, key=lambda line: (line.due_utc is None, line.due_utc or "")),
        ready=[line for one in standing if (line := _ready_line(one)) is not None],
        coming=sorted((event for one in standing for event in _coming(one, now)), key=lambda event: event.at_utc)[:8],
        cautions=cautions,
        glues=len(glues),
        rigs=len(rigs),
        removed=removed,
    )


@dataclass(frozen=True)
class Standing:
    """A trial with its pieces by how far they have come, and what its timetable says comes next."""

    facts: PieceFacts
    by_state: Mapping[PieceState, Sequence[Piece]]
    tasks: Sequence[TaskView]


def stand(facts: PieceFacts, tasks: Sequence[TaskRow], now: datetime) -> Standing:
    """Return how the pieces of a trial stand at a moment."""
    by_state: dict[PieceState, list[Piece]] = {state: [] for state in PieceState}
    for piece in facts.pieces.values():
        by_state[facts.state_of(piece, now)].append(piece)
    return Standing(facts, by_state, list_coming(facts, tasks, now))


def _trial_line(standing: Standing) -> TrialLine:
    facts = standing.facts
    states = [state for state, pieces in standing.by_state.items() for _ in pieces]
    if not states:
        states = [PieceState.PLANNED] * sum(treatment.pieces for treatment in facts.made)
    flow = count_flow(facts, states)
    words, station = _say_trial(standing, flow)
    return TrialLine(facts.trial.id, facts.trial.question, bool(facts.trial.practice), flow, words, station)


def _say_trial(standing: Standing, flow: Sequence[Station]) -> tuple[str, str]:
    """Return where a trial stands, and the station that is next."""
    if not standing.facts.pieces:
        return "a plan, not settled", "plan"
    count = {state: len(pieces) for state, pieces in standing.by_state.items()}
    if count[PieceState.CLAMPED]:
        return f"{count[PieceState.CLAMPED]} in clamps", "glue"
    if count[PieceState.READY]:
        return f"{count[PieceState.READY]} ready to break", "break"
    if count[PieceState.CURING]:
        return f"{count[PieceState.CURING]} curing", "cure"
    if count[PieceState.SAWN]:
        return f"{count[PieceState.SAWN]} to glue", "glue"
    if count[PieceState.PLANNED]:
        return f"{count[PieceState.PLANNED]} to saw", "saw"
    return f"all broken, {flow[-1].done} count", "compare"


def list_clamp_lines(standing: Standing) -> list[ClampLine]:
    """Return what is in clamps, grouped by what comes off together."""
    facts = standing.facts
    key = partial(_clamp_key, facts)
    lines = []
    for _, group in groupby(sorted(standing.by_state[PieceState.CLAMPED], key=key), key=key):
        pieces = list(group)
        due = facts.release_due(pieces[0])
        batch = facts.batches.get(pieces[0].batch_id or 0)
        glue = batch.glue if batch else ""
        lines.append(
            ClampLine(
                trial_id=facts.trial.id,
                question=facts.trial.question,
                piece_ids=[piece.id for piece in pieces],
                labels=[piece.label for piece in pieces],
                words=f"{glue}, {len(pieces)} {'piece' if len(pieces) == 1 else 'pieces'}",
                clamped_utc=pieces[0].clamped_utc or "",
                due_utc=to_text(due) if due else None,
                batch=batch.number if batch else None,
            )
        )
    return lines


def _clamp_key(facts: PieceFacts, piece: Piece) -> tuple[int, str, str]:
    due = facts.release_due(piece)
    return (piece.batch_id or 0, piece.clamped_utc or "", to_text(due) if due else "")


def _ready_line(standing: Standing) -> ReadyLine | None:
    facts = standing.facts
    ready = sorted(standing.by_state[PieceState.READY], key=lambda piece: piece.break_turn)
    if not ready:
        return None
    return ReadyLine(facts.trial.id, facts.trial.question, facts.trial.joint, [piece.label for piece in ready])


def _coming(standing: Standing, now: datetime) -> list[NextEvent]:
    facts = standing.facts
    releases: dict[datetime, list[str]] = {}
    cures: dict[datetime, list[str]] = {}
    outs: dict[datetime, list[str]] = {}
    for piece in standing.by_state[PieceState.CLAMPED]:
        if (due := facts.release_due(piece)) and due > now:
            releases.setdefault(due, []).append(piece.label)
    for piece in standing.by_state[PieceState.CURING]:
        if (ready := facts.ready_at(piece)) and ready > now and piece.panel is None:
            (outs if facts.life_of(piece).inside else cures).setdefault(ready, []).append(piece.label)
    events = [NextEvent(to_text(at), facts.trial.id, f"{_few(labels)} come off") for at, labels in releases.items()]
    events += [NextEvent(to_text(at), facts.trial.id, f"{_few(labels)} cured") for at, labels in cures.items()]
    events += [NextEvent(to_text(at), facts.trial.id, f"{_few(labels)} come out") for at, labels in outs.items()]
    events += [
        NextEvent(date.due_utc, facts.trial.id, f"{words} due ({date.words})")
        for date in list_pull_dates(facts).dates
        if date.due_utc is not None and date.due_utc > to_text(now) and (words := say_panels(date))
    ]
    return events + [
        NextEvent(one.begin_utc, facts.trial.id, one.words) for one in standing.tasks if one.state != "late"
    ]


def _few(labels: Sequence[str]) -> str:
    return ", ".join(labels) if len(labels) <= 4 else f"{', '.join(labels[:3])} and {len(labels) - 3} more"
