"""Whom a clause is about: the sets that its words mean in a slice, and their names in words."""

from collections.abc import Sequence

from adhaero.core.claims.evidence import SetSlice
from adhaero.core.claims.names import Ref
from adhaero.core.claims.normal_form import Statement, Who, Whom
from adhaero.core.stats.words import and_join


def expand(
    one: SetSlice, who: Who | None, against: Sequence[Ref] = (), like: Ref | None = None
) -> tuple[Ref, ...] | str:
    """Return the sets that are meant; `against` are those on the other side."""
    if who is None:
        return ()
    if who.whom in (Whom.NAMED, Whom.ONLY):
        return who.refs
    everyone = tuple(ref for ref in one.everyone(like) if ref not in against and ref not in who.but)
    if who.whom in (Whom.ALL, Whom.OTHERS):
        return everyone
    if who.whom is Whom.NONE:
        return who.refs or everyone
    if who.whom is Whom.THEY or (who.whom is Whom.BOTH and len(everyone) == 2):
        return everyone
    if who.whom is Whom.BOTH:
        return f"both: there are {len(everyone)} sets"
    return "it: nothing is named before"


def find_one_set(one: SetSlice, statement: Statement) -> Ref | str:
    """Return the one set that a statement is about; words where it is not one."""
    subjects = expand(one, statement.subject)
    if isinstance(subjects, str):
        return subjects
    if statement.subject is None or statement.subject.whom is not Whom.NAMED or len(subjects) != 1:
        return "one set must be named"
    return subjects[0]


def say_names(refs: Sequence[Ref]) -> str:
    """Return sets as a list in words."""
    return and_join([say_name(one) for one in refs])


def say_name(ref: Ref) -> str:
    """Return the name of a set or value."""
    return ", ".join(ref.key[1::2]) if ref.kind == "values" else ref.words


def say_each(refs: Sequence[Ref]) -> str:
    """Return several sets as each of them."""
    return say_names(refs) if len(refs) == 1 else f"each of {say_names(refs)}"


def say_each_name(names: Sequence[str]) -> str:
    """Return several names as each of them."""
    return names[0] if len(names) == 1 else f"each of {and_join(list(names))}"


def join_words(words: Sequence[str]) -> str:
    """Return what was found, at most four of it, the rest counted."""
    said = list(dict.fromkeys(one for one in words if one))
    more = f"; and {len(said) - 4} more" if len(said) > 4 else ""
    return "; ".join(said[:4]) + more
