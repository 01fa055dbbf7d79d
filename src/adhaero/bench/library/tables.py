"""The tables of the book: what trials say in one place, under the names by which things are called over all of them."""

from collections.abc import Mapping, Sequence
from dataclasses import dataclass, replace

from adhaero.bench.facts.shelf import kept
from adhaero.bench.library.evidence import Place, Says
from adhaero.core.plan.fields import Factor
from adhaero.core.stats.library import Compared, Network, Routes, fit_network
from adhaero.core.stats.trial_evidence import Evidence
from adhaero.store.library import Call, TableJoin

_MOST_SPLIT, _FEW_TRIALS = 40, 80


@dataclass(frozen=True)
class Table:
    """One table: a kind of thing compared in one place, or in several that a person joined.

    Attributes
    ----------
    says : what its trials say, things under the names of the book. joined : the other places that stand in it.
    """

    subject: str
    kind: Factor
    place: Place
    joined: tuple[Place, ...]
    says: tuple[Says, ...]

    @property
    def words(self) -> str:
        """Return where its numbers come from."""
        return self.place.words

    @property
    def evidence(self) -> tuple[Evidence, ...]:
        """Return what its trials say, part by part."""
        return tuple(part for one in self.says for part in one.evidence)

    @property
    def things(self) -> tuple[str, ...]:
        """Return everything that stands in it, bounds included."""
        named = [name for one in self.says for part in one.evidence for name in part.names]
        sided = [bound.name for one in self.says for bound in one.sided]
        return tuple(dict.fromkeys([*named, *sided]))

    def pieces_of(self, name: str) -> int:
        """Return of how many pieces something is known."""
        return sum(
            part.pieces[part.names.index(name)] for part in self.evidence if name in part.names
        ) + sum(bound.pieces for one in self.says for bound in one.sided if bound.name == name)  # fmt: skip

    def trials_of(self, name: str) -> int:
        """Return in how many trials something stands."""
        return len(
            {part.trial for part in self.evidence if name in part.names}
            | {one.trial_id for one in self.says for bound in one.sided if bound.name == name}
        )


@dataclass(frozen=True)
class Solved:
    """A table worked out: the network, its comparisons, and those that have two ways of getting there."""

    network: Network
    pairs: tuple[Compared, ...]
    split: tuple[tuple[tuple[str, str], Routes], ...]
    more_to_split: int


@kept(most=64)
def solve_table(evidence: tuple[Evidence, ...]) -> Solved | None:
    """Return a table worked out; None where nothing is compared. Kept, because what trials said never changes."""
    if not evidence:
        return None
    network = fit_network(evidence)
    pairs = network.compare_all()
    met = sorted((one for one in pairs if one.direct), key=lambda one: -len(one.direct))
    # each is a table of its own: among hundreds of trials they are asked for
    most = _MOST_SPLIT if len(evidence) <= _FEW_TRIALS else 0
    split = [((one.a, one.b), found) for one in met[:most] if (found := network.split(one.a, one.b)) is not None]
    return Solved(network, tuple(pairs), tuple(split), max(0, len(met) - most))


def make_tables(
    says: Sequence[Says], calls: Sequence[Call], joins: Sequence[TableJoin], families: Mapping[int, str]
) -> list[Table]:
    """Return the tables of the book, those of most trials first.

    Parameters
    ----------
    families : of the shop's glues. Glues of one name and two families are two things, until a person says otherwise.
    """
    named = name_things(says, calls, families)
    home = _find_homes(named, joins)
    by_home: dict[tuple[str, Place], list[Says]] = {}
    for one in named:
        by_home.setdefault((one.subject, home[one.subject, one.place]), []).append(one)
    tables = [
        Table(
            subject, mine[0].kind, place,
            tuple(dict.fromkeys(one.place for one in mine if one.place != place)), tuple(mine),
        )
        for (subject, place), mine in by_home.items()
    ]  # fmt: skip
    return sorted(tables, key=lambda one: (-len(one.says), one.subject, one.words))


def _find_homes(says: Sequence[Says], joins: Sequence[TableJoin]) -> dict[tuple[str, Place], Place]:
    """Return in whose table each place stands: its own, or that of the place it was joined to."""
    places: dict[tuple[str, str], Place] = {}
    for one in says:
        places.setdefault((one.subject, one.place.words), one.place)
    home = {key: key for key in places}
    for join in joins:
        near, far = (join.subject, join.place), (join.subject, join.with_place)
        # what is measured in another unit never stands in one table, whatever a person joined before it changed
        if near in home and far in home and places[near].response == places[far].response:
            first, second = home[near], home[far]
            home = {key: first if at == second else at for key, at in home.items()}
    return {(key[0], places[key]): places[at] for key, at in home.items()}


def name_things(says: Sequence[Says], calls: Sequence[Call], families: Mapping[int, str]) -> list[Says]:
    """Return what trials say under the names of the book, one by one in the same order."""
    once = {(one.subject, one.trial_id, one.name.casefold()): one.called for one in calls}
    kinds: dict[tuple[str, str], set[str]] = {}
    spelt: dict[tuple[str, str], str] = {}
    for one in says:
        for name, glue in one.glues:
            if glue in families:
                kinds.setdefault((one.subject, name.casefold()), set()).add(families[glue])
        for name in names_of(one):
            spelt.setdefault((one.subject, name.casefold()), name)

    def call(one: Says, name: str) -> str:
        key = name.casefold()
        called = once.get((one.subject, one.trial_id, key)) or once.get((one.subject, None, key))
        if called is not None:
            return called
        family = families.get(dict(one.glues).get(name, 0), "")
        plain = spelt[one.subject, key]
        return f"{plain} ({family})" if family and len(kinds[one.subject, key]) > 1 else plain

    return [_rename(one, {name: call(one, name) for name in names_of(one)}) for one in says]


def names_of(one: Says) -> list[str]:
    """Return everything that a trial names, in an order that stays when things are called otherwise."""
    named = [name for part in one.evidence for name in part.names]
    sided = [name for bound in one.sided for name in (bound.name, bound.against) if name]
    return list(dict.fromkeys([*named, *sided, *(name for name, _ in one.typical), *(name for name, _ in one.glues)]))


def _rename(one: Says, called: Mapping[str, str]) -> Says:
    """Return what a trial says with its things renamed; two of one trial that are called the same stay two."""
    taken = list(called.values())
    safe = {name: new if taken.count(new) == 1 else name for name, new in called.items()}
    if all(name == new for name, new in safe.items()):
        return one
    return replace(
        one,
        evidence=tuple(replace(part, names=tuple(safe[name] for name in part.names)) for part in one.evidence),
        sided=tuple(replace(b, name=safe[b.name], against=safe.get(b.against, "")) for b in one.sided),
        glues=tuple((safe[name], glue) for name, glue in one.glues),
        typical=tuple((safe[name], log) for name, log in one.typical),
    )
