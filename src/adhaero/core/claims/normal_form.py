"""What a clause of a conclusion claims, in one form for every way to say it."""

from dataclasses import dataclass, field
from enum import StrEnum

from adhaero.core.claims.amounts import Amount
from adhaero.core.claims.names import Ref


class Whom(StrEnum):
    """Whom a clause is about."""

    NAMED = "named"
    ALL = "all"
    NONE = "none"
    OTHERS = "others"
    ONLY = "only"
    IT = "it"
    THEY = "they"
    BOTH = "both"


@dataclass(frozen=True)
class Who:
    """Sets or values a clause is about; `but` are left out of all."""

    whom: Whom = Whom.NAMED
    refs: tuple[Ref, ...] = ()
    but: tuple[Ref, ...] = ()


class Form(StrEnum):
    """The kinds of claims."""

    STRONGER = "stronger"
    WEAKER = "weaker"
    NEARLY = "nearly as strong"
    AT_LEAST_AS_STRONG = "at least as strong"
    AS_STRONG = "as strong"
    SAME = "same"
    DIFFERENT = "different"
    APART = "cannot be told apart"
    KEEPS = "keeps"
    LOST = "lost"
    GAINED = "gained"
    MOST = "strongest"
    LEAST = "weakest"
    PLACE = "place"
    STEADIER = "steadier"
    LESS_STEADY = "less steady"
    STEADIEST = "steadiest"
    LEAST_STEADY = "least steady"
    READING = "reading"
    SCATTERS = "scatters by"
    TORN_AVERAGE = "average torn wood"
    PIECES_AT = "pieces beyond"
    COUNT = "number of pieces"
    ENDS = "ends compared"
    TORN = "torn"
    MATTERS = "matters more"
    FACTOR_SAME = "no difference"
    MAKES = "makes"
    SHARE_MORE = "keeps more"
    SHARE_LESS = "keeps less"
    SHARE_MOST = "keeps most"
    SHARE_LEAST = "keeps least"
    LOST_STRENGTH = "lost strength"
    LOST_NOTHING = "lost nothing"


@dataclass(frozen=True)
class Statement:
    """One claim.

    Attributes
    ----------
    subject, object : whom it is about, and what it is held against; None where it was left out.
    amount : how much; degree : “slightly” or “much”, of a comparison without an amount.
    negated : the claim is denied. untrue : the whole of it is (“not all”, “it is not true that”).
    own : its own strength in another condition is the base.
    what : of a reading: average, median, least, greatest; of torn wood: wood or glue.
    count : of pieces; of : of how many.
    place : from the strongest, or from the weakest where below 0.
    factors : of a claim about factors. where : slices that it is about; base : the condition that a share is of.
    """

    form: Form
    subject: Who | None = None
    object: Who | None = None
    amount: Amount | None = None
    degree: str = ""
    negated: bool = False
    untrue: bool = False
    own: bool = False
    what: str = ""
    against: str = ""
    count: float | None = None
    of: float | None = None
    place: int = 0
    factors: tuple[str, ...] = ()
    where: tuple[Ref, ...] = ()
    base: Ref | None = None
    chain: tuple["Statement", ...] = field(default=())
