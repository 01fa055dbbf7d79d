"""The one hierarchy of errors."""

from adhaero.core import errors
from adhaero.core.errors import AdhaeroError


def test_every_error_has_a_code_of_its_own() -> None:
    kinds = [kind for kind in vars(errors).values() if isinstance(kind, type) and issubclass(kind, AdhaeroError)]
    codes = [kind.code for kind in kinds]
    assert len(set(codes)) == len(codes) == 14


def test_the_sentence_leaves_out_what_is_not_said() -> None:
    assert AdhaeroError("It is so.", do="Do this.").sentence == "It is so. Do this."
