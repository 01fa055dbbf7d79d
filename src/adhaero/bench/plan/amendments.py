"""What was changed in a plan after it was settled, with the reason."""

from adhaero.bench.facts.plan_facts import PlanFacts
from adhaero.core.errors import EntryError, ReasonNeeded
from adhaero.store.connecting import Connection
from adhaero.store.trials import insert_amendment


def write_amendment(
    connection: Connection, facts: PlanFacts, at_utc: str, field: str, words: str, before: str, after: str, reason: str
) -> None:
    """Keep a change of a settled plan with its reason; call inside a transaction.

    Raises
    ------
    ReasonNeeded : no reason is given.
    """
    if not reason.strip():
        raise ReasonNeeded(
            f"The plan is settled, and its {words} would change from “{before}” to “{after}”.",
            "It can change, with a reason that stays beside it.",
            "Say why.",
            field=field,
        )
    if before == after:
        raise EntryError("Nothing would change.", field=field)
    insert_amendment(
        connection,
        trial_id=facts.trial.id,
        at_utc=at_utc,
        field=field,
        words=words,
        before=before,
        after=after,
        reason=reason.strip()[:300],
    )
