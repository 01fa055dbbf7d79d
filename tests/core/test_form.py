"""A form is read whole: what is wrong is told at once, each at its field."""

import pytest

from adhaero.core.errors import EntryError, FormError
from adhaero.core.form import FormReader
from adhaero.core.quantity import Kind, parse_quantity


def read(form: FormReader, typed: str, field: str) -> object:
    return form.read(parse_quantity, typed, Kind.LENGTH, field=field)


def test_a_form_that_is_right_gives_its_values() -> None:
    form = FormReader()
    width = form.read(parse_quantity, "22 mm", Kind.LENGTH, field="width")
    form.finish()
    assert (width.value.si, width.value_or(width.value).typed) == (22.0, "22 mm")


def test_one_fault_is_told_as_it_is_and_several_together_each_with_its_field() -> None:
    form = FormReader()
    wrong = form.read(parse_quantity, "thick", Kind.LENGTH, field="thickness")
    with pytest.raises(EntryError, match="thick") as alone:
        form.finish()
    assert (alone.type, alone.value.field) == (EntryError, "thickness")
    read(form, "22 mm", "width")
    read(form, "34 lb", "length")
    with pytest.raises(FormError, match=r"“thick”.*“34 lb”") as both:
        form.finish()
    assert [one.field for one in both.value.faults] == ["thickness", "length"]
    with pytest.raises(LookupError):
        _ = wrong.value
