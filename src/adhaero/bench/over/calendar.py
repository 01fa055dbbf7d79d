"""The calendar file of what is due, over all trials."""

from datetime import datetime

from adhaero.bench.cure.panels import list_pull_dates, say_panels
from adhaero.bench.facts.reading import read_trial
from adhaero.bench.over.today import list_clamp_lines, stand
from adhaero.core.pieces import PieceState
from adhaero.files.calendar import Appointment, write_calendar
from adhaero.store.file import ShopFile, to_text
from adhaero.store.pieces import Piece
from adhaero.store.timetables import list_tasks
from adhaero.store.trials import list_trials


def make_calendar(file: ShopFile) -> bytes:
    """Return what comes by itself as a calendar file: clamps to take off, with alarms, and pieces that are ready."""
    now = file.clock()
    with file.reading() as connection:
        standing = [
            stand(read_trial(connection, trial.id), list_tasks(connection, trial.id), now)
            for trial in list_trials(connection)
        ]
    found = []
    for one in standing:
        for line in list_clamp_lines(one):
            if line.due_utc is not None:
                words = f"Take off clamps: {', '.join(line.labels)}"
                uid = f"off-{line.trial_id}-{line.piece_ids[0]}-{line.clamped_utc}"
                due = datetime.fromisoformat(line.due_utc)
                found.append(Appointment(uid, due, words, f"{line.words}. {line.question}", alarm=True))
        by_time: dict[datetime, list[Piece]] = {}
        for piece in one.by_state[PieceState.CURING]:
            ready = one.facts.ready_at(piece)
            if ready is not None and ready > now and piece.panel is None:
                by_time.setdefault(ready, []).append(piece)
        for ready, pieces in by_time.items():
            words = f"Ready to break: {', '.join(piece.label for piece in pieces)}"
            uid = f"ready-{one.facts.trial.id}-{pieces[0].id}"
            found.append(Appointment(uid, ready, words, one.facts.trial.question))
        for date in list_pull_dates(one.facts).dates:
            if date.due_utc is not None and date.due_utc > to_text(now) and (words := say_panels(date)):
                uid = f"panels-{one.facts.trial.id}-{date.level_id}"
                due = datetime.fromisoformat(date.due_utc)
                found.append(Appointment(uid, due, f"{words} due ({date.words})", one.facts.trial.question, alarm=True))
        for task in one.tasks:
            uid = f"task-{one.facts.trial.id}-{task.kind}-{task.piece_ids[0]}"
            begin, end = datetime.fromisoformat(task.begin_utc), datetime.fromisoformat(task.end_utc)
            more = f"{', '.join(task.labels)}. {one.facts.trial.question}"
            found.append(Appointment(uid, begin, task.words, more, alarm=True, length=end - begin))
    return write_calendar(sorted(found, key=lambda appointment: appointment.at), now)
