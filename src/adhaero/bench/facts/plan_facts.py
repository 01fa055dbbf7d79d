"""What follows from the plan of a trial: its sets, values, joints, planned sizes and times."""

from collections.abc import Mapping
from dataclasses import dataclass
from functools import cached_property

from adhaero.bench.facts.rows import Rows
from adhaero.core.fixture import FORMS as FIXTURES
from adhaero.core.fixture import Fixture
from adhaero.core.joint import Joint, find_joint
from adhaero.core.plan.exposures import PlannedExposure, read_exposure
from adhaero.core.plan.fields import FACTORS, Factor, measured_sizes
from adhaero.core.plan.treatments import TreatmentKind
from adhaero.store.plans import (
    FactorRow,
    LevelRow,
    Treatment,
)
from adhaero.store.rigs import Rig

_LONG_S = 14 * 86_400


@dataclass(frozen=True, eq=False)
class PlanFacts(Rows):
    """A trial with what its plan says of each treatment. What depends on the time of day is asked with a `now`."""

    @cached_property
    def joint(self) -> Joint:
        """Return the joint of the trial."""
        return Joint(self.trial.joint)

    @cached_property
    def fixture(self) -> Fixture:
        """Return the fixture of the trial."""
        return Fixture(self.trial.fixture)

    @cached_property
    def made(self) -> tuple[Treatment, ...]:
        """Return the sets that are made, in order: all but those left out."""
        return tuple(one for one in self.treatments.values() if not one.left_out)

    @cached_property
    def kinds(self) -> Mapping[int, Factor]:
        """Return what each factor is, by its id."""
        return {row.id: Factor(row.kind) for row in self.factors.values()}

    @cached_property
    def set_by_sets(self) -> frozenset[str]:
        """Return the words and quantities of the plan that its sets set: what stands there holds for none of them."""
        forms = [FACTORS[kind] for kind in self.kinds.values()]
        return frozenset(name for form in forms for name in (*form.sets, form.quantity) if name)

    def words_of(self, factor: FactorRow) -> str:
        """Return a factor in words."""
        return factor.name or FACTORS[Factor(factor.kind)].words

    @property
    def factor_words(self) -> str:
        """Return what the trial varies, in words."""
        return " and ".join(self.words_of(one) for one in self.factors.values()) or "nothing yet"

    @cached_property
    def levels_of(self) -> Mapping[int, tuple[LevelRow, ...]]:
        """Return the values that each set is made of, by its id."""
        return {key: tuple(self.levels[one] for one in ids) for key, ids in self.treatment_levels.items()}

    def level_of(self, treatment: Treatment, factor: Factor) -> LevelRow | None:
        """Return a set's value of what is varied, None where that does not vary or the set has none."""
        return next((one for one in self.levels_of.get(treatment.id, ()) if self.kinds[one.factor_id] is factor), None)

    @cached_property
    def ages(self) -> tuple[LevelRow, ...]:
        """Return the ages at the test where they vary, in the order of the plan."""
        return tuple(one for one in self.levels.values() if self.kinds[one.factor_id] is Factor.CURE_TIME)

    @property
    def rig(self) -> Rig | None:
        """Return the rig that the plan counts on: the one chosen, else the shop's only one."""
        if self.trial.rig_id is None:
            return next(iter(self.rigs.values())) if len(self.rigs) == 1 else None
        return self.rigs.get(self.trial.rig_id)

    @property
    def runs_over_years(self) -> bool:
        """Return whether the age at the test varies, and reaches weeks: then complete sets are pulled as panels."""
        return max((one.value_si or 0.0 for one in self.ages), default=0.0) >= _LONG_S

    @cached_property
    def planned_sizes(self) -> dict[str, float]:
        """Return the planned sizes of every piece and of the rig, mm."""
        return {name: row.si for name, row in self.quantities.items()}

    @cached_property
    def joints(self) -> tuple[Joint, ...]:
        """Return the joints of the trial: one, or those that are compared."""
        joined = [self.joint_of(one) for one in self.made if not one.solid]
        return tuple(dict.fromkeys(joined)) or (self.joint,)

    def knows_joint_of(self, treatment: Treatment) -> bool:
        """Return whether anybody said which joint a set has."""
        return self.trial.joint_said or self.level_of(treatment, Factor.JOINT) is not None

    def joint_of(self, treatment: Treatment) -> Joint:
        """Return the joint of a set."""
        return self._joint_of[treatment.id]

    @cached_property
    def _joint_of(self) -> Mapping[int, Joint]:
        levels = {one.id: self.level_of(one, Factor.JOINT) for one in self.treatments.values()}
        return {key: find_joint(level.name) if level else self.joint for key, level in levels.items()}

    @cached_property
    def measured_names(self) -> tuple[str, ...]:
        """Return the sizes that are measured on each piece: those that its strength is computed from."""
        return tuple(dict.fromkeys(name for joint in self.joints for name in measured_sizes(joint, self.fixture)))

    def quantity_of(self, treatment: Treatment, name: str) -> float | None:
        """Return a planned quantity of a set: its own value where it is what varies, else the trial's."""
        for level in self.levels_of.get(treatment.id, ()):
            if FACTORS[self.kinds[level.factor_id]].quantity == name:
                return level.value_si
        row = self.quantities.get(name)
        return row.si if row else None

    @cached_property
    def _planned_of(self) -> Mapping[int, dict[str, float]]:
        return {key: self._read_planned(one) for key, one in self.treatments.items()}

    def _read_planned(self, treatment: Treatment) -> dict[str, float]:
        own = {
            name: level.value_si
            for level in self.levels_of.get(treatment.id, ())
            if (name := FACTORS[self.kinds[level.factor_id]].quantity) and level.value_si is not None
        }
        return self.planned_sizes | own

    def planned_of(self, treatment: Treatment) -> dict[str, float]:
        """Return the planned sizes of a set's pieces and of the rig, mm."""
        return self._planned_of[treatment.id]

    def glue_of(self, treatment: Treatment) -> str:
        """Return the glue that the plan asks for in a set; empty for a solid one or when none is written down."""
        return self._glue_of[treatment.id]

    @cached_property
    def _glue_of(self) -> Mapping[int, str]:
        levels = {one.id: self.level_of(one, Factor.GLUE) for one in self.treatments.values() if not one.solid}
        glued = {key: level.name if level else self.trial.glue for key, level in levels.items()}
        return {key: glued.get(key, "") for key in self.treatments}

    def made_of(self, treatment: Treatment) -> Mapping[str, str]:
        """Return a set's value of each thing that is varied, by its words; empty for a baseline."""
        return self._made_of[treatment.id]

    @cached_property
    def _made_of(self) -> Mapping[int, Mapping[str, str]]:
        return {
            key: {self.words_of(self.factors[one.factor_id]): one.name for one in self.levels_of.get(key, ())}
            if treatment.kind == TreatmentKind.MADE
            else {}
            for key, treatment in self.treatments.items()
        }

    @cached_property
    def _needed_of(self) -> Mapping[int, tuple[str, ...]]:
        return {key: measured_sizes(joint, self.fixture) for key, joint in self._joint_of.items()}

    @cached_property
    def response(self) -> str:
        """Return what a break comes to, with its unit: a stress, or a moment for corners."""
        return {"moment": "moment_Nm", "load": "load_N"}.get(FIXTURES[self.fixture].kind, "strength_MPa")

    def planned_exposure_of_set(self, treatment: Treatment) -> PlannedExposure | None:
        """Return what a set goes through before the test by plan; None where it is only kept as it is."""
        return self._planned_exposures[treatment.id]

    @cached_property
    def _planned_exposures(self) -> dict[int, PlannedExposure | None]:
        found = {}
        for one in self.treatments.values():
            level = self.level_of(one, Factor.CONDITION)
            found[one.id] = read_exposure(level.name if level else self.trial.condition)
        return found
