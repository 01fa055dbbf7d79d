"""Moments as a person's clock writes them."""

from datetime import datetime

from adhaero.core.errors import EntryError


def check_moment(text: str, now: datetime, field: str) -> datetime:
    """Return a moment as written by a person's clock with its offset; raises `EntryError` for the future."""
    moment = _read_moment(text, field)
    if (moment - now).total_seconds() > 60:
        raise EntryError(
            "That time has not come yet.", "Expected a time up to now.", "Check day and hour.", field=field
        )
    return moment


def check_moment_ahead(text: str, now: datetime, field: str) -> datetime:
    """Return a moment that is still to come; raises `EntryError` for the past."""
    moment = _read_moment(text, field)
    if moment < now:
        raise EntryError("That time is over.", "Expected a time from now on.", "Check day and hour.", field=field)
    return moment


def _read_moment(text: str, field: str) -> datetime:
    try:
        moment = datetime.fromisoformat(text)
    except ValueError:
        raise EntryError(f"“{text}” is not a time.", "Expected e.g. 2026-05-04T09:30:00Z.", field=field) from None
    if moment.tzinfo is None:
        raise EntryError(f"“{text}” has no time zone.", "Expected e.g. 2026-05-04T09:30:00Z.", field=field)
    return moment
