"""One engine's candidate causes held against one body of evidence, all sets of one and two at once.

Arrays by candidate c and piece of evidence e: what the noisy-OR keeps of the finding's absence, and how much
prevention damps it. Pairs that share no evidence need not be computed together. F-06 in docs/formulas.md.
"""

from collections.abc import Sequence

import numpy as np

from pronostico.core.arrays import BoolArray, FloatArray, IntArray
from pronostico.core.causes.model import Evidence, Knowledge, Link, candidates_for
from pronostico.core.causes.places import Place, includes, side_at
from pronostico.core.constants import DEFAULT, Constants
from pronostico.core.engine import Engine

_NOTHING = 25.0  # in natural log, below the best


def _tempered(weights: FloatArray, starts: IntArray, constants: Constants) -> FloatArray:
    """Tempered weight of each group of evidence, for and against separately; (..., n) to (..., groups)."""
    total = np.zeros((*weights.shape[:-1], len(starts)))
    for sign in (1.0, -1.0):
        one_way = np.where(weights * sign > constants.uninformative_nats, weights * sign, 0.0)
        count = np.add.reduceat((one_way > 0.0).astype(np.float64), starts, axis=-1)
        summed = np.add.reduceat(one_way, starts, axis=-1)
        strongest = np.maximum.reduceat(one_way, starts, axis=-1)
        total += sign * np.maximum(
            strongest, summed / (1.0 + constants.same_facts_share * np.maximum(count - 1.0, 0.0))
        )
    return total


class Network:
    """The candidates, the evidence that the knowledge is evidence for, and how each bears on the other."""

    def __init__(
        self,
        engine: Engine,
        knowledge: Knowledge,
        evidence: Sequence[Evidence],
        constants: Constants = DEFAULT,
    ) -> None:
        self.engine, self.knowledge, self.constants = engine, knowledge, constants
        self.candidates = candidates_for(engine, knowledge)
        self._included: dict[tuple[Place, Place], bool] = {}
        known = [one for one in evidence if one.finding in knowledge.findings]
        # Witnesses of one family stand together, and within it those of one place.
        self.evidence = sorted(
            known, key=lambda one: (self._family(one.finding), one.place.name, one.finding)
        )
        self.presence = np.array([one.presence for one in self.evidence])
        self.leak = np.array([knowledge.findings[one.finding].leak for one in self.evidence])
        self.links: dict[tuple[int, int], Link] = {}
        self.keep, self.damp, self.linked = self.reach([(one.finding, one.place) for one in self.evidence])
        for c, candidate in enumerate(self.candidates):
            by_finding = {link.finding: link for link in candidate.kind.links}
            for e in np.flatnonzero(self.linked[c]):
                self.links[c, int(e)] = by_finding[self.evidence[int(e)].finding]
        self._places, self._families = self._starts()

    def _family(self, finding: str) -> str:
        return self.knowledge.findings[finding].family

    def _includes(self, outer: Place, inner: Place) -> bool:
        """The same, asked often: there are few places."""
        known = self._included.get((outer, inner))
        if known is None:
            known = self._included[outer, inner] = includes(self.engine, outer, inner)
        return known

    def _starts(self) -> tuple[IntArray, IntArray]:
        """Where each place within a family begins, and where each family begins among those places."""
        places: list[int] = []
        families: list[int] = []
        before: tuple[str, str] | None = None
        for e, one in enumerate(self.evidence):
            here = (self._family(one.finding), one.place.name)
            if before is None or here[0] != before[0]:
                families.append(len(places))
            if here != before:
                places.append(e)
            before = here
        return np.array(places, dtype=np.int64), np.array(families, dtype=np.int64)

    def reach(self, findings: Sequence[tuple[str, Place]]) -> tuple[FloatArray, FloatArray, BoolArray]:
        """What each candidate does to findings at places: keep, damp, linked; all (candidates, findings)."""
        shape = (len(self.candidates), len(findings))
        keep, damp, linked = np.ones(shape), np.ones(shape), np.zeros(shape, dtype=bool)
        where: dict[str, list[tuple[int, Place]]] = {}
        for e, (finding, place) in enumerate(findings):
            where.setdefault(finding, []).append((e, place))
        for c, candidate in enumerate(self.candidates):
            side = side_at(self.engine, candidate.place)
            for link in candidate.kind.links:
                if link.side not in (None, side):
                    continue
                for e, place in where.get(link.finding, ()):
                    if not self._includes(candidate.place, place):
                        continue
                    linked[c, e] = True
                    if link.strength is None:
                        damp[c, e] = self.constants.prevented
                    else:
                        keep[c, e] = 1.0 - link.strength
        return keep, damp, linked

    def log_ratio(self, keep: FloatArray, damp: FloatArray) -> FloatArray:
        """Log P(evidence | causes) - log P(evidence | none), nats, untempered; (..., e)."""
        with_causes = (1.0 - (1.0 - self.leak) * keep) * damp
        q = self.presence
        likely = q * with_causes + (1.0 - q) * (1.0 - with_causes)
        return np.asarray(np.log(likely / (q * self.leak + (1.0 - q) * (1.0 - self.leak))))

    def together(self, ratios: FloatArray) -> FloatArray:
        """Tempered weight of ratios (..., e): first what was found at one place, then places of a family."""
        if not self.evidence:
            return np.zeros(ratios.shape[:-1])
        at_place = _tempered(ratios, self._places, self.constants)
        return np.asarray(_tempered(at_place, self._families, self.constants).sum(axis=-1))

    def weigh(self) -> "States":
        """The posterior probability of every set of none, one and two causes."""
        single = np.where(self.linked, self.log_ratio(self.keep, self.damp), 0.0)
        alone = self.together(single)
        first, second = np.triu_indices(len(self.candidates), k=1)
        pairs = alone[first] + alone[second]
        prior = np.array([c.prior for c in self.candidates])
        odds = np.log(prior / (1.0 - prior))
        # What two causes weigh apart is near what they weigh together: far below the best they are nothing.
        apart = odds[first] + odds[second] + pairs
        least = max(0.0, float((odds + alone).max(initial=0.0)), float(apart.max(initial=0.0))) - _NOTHING
        shared = np.flatnonzero((self._met()[first, second]) & (apart > least))
        for some in np.array_split(shared, max(1, len(shared) // 4096)):
            pairs[some] = self._pair(single, alone, first[some], second[some])
        log_mass = np.concatenate([[0.0], odds + alone, odds[first] + odds[second] + pairs])
        mass = np.exp(log_mass - log_mass.max())
        none = np.full(1, -1)
        every = np.arange(len(self.candidates))
        return States(
            mass / mass.sum(),
            np.concatenate([none, every, first]),
            np.concatenate([none, np.full(len(every), -1), second]),
            single,
            alone,
        )

    def _met(self) -> BoolArray:
        """Whether two candidates share evidence; (c, c)."""
        linked = self.linked.astype(np.float32)
        return np.asarray(linked @ linked.T > 0.5)

    def _pair(self, single: FloatArray, alone: FloatArray, first: IntArray, second: IntArray) -> FloatArray:
        """Weight of pairs that share evidence: what one weighs alone, and what the other adds to it.

        What one cause explains counts once: the other is left with how much likelier it makes the finding
        still. Either may come first; the order that explains more counts, so that the weight is continuous in
        every strength.
        """
        joint = self.log_ratio(self.keep[first] * self.keep[second], self.damp[first] * self.damp[second])
        joint = np.where(self.linked[first] | self.linked[second], joint, 0.0)
        return np.maximum(
            alone[first] + self.together(joint - single[first]),
            alone[second] + self.together(joint - single[second]),
        )


class States:
    """Sets of causes: `mass` (s,), and the one or two candidates of each, -1 for none; both (s,).

    `single` (c, e): what each piece of evidence says of each candidate, nats; `alone` (c,): all, tempered.
    """

    def __init__(
        self, mass: FloatArray, first: IntArray, second: IntArray, single: FloatArray, alone: FloatArray
    ) -> None:
        self.mass, self.first, self.second = mass, first, second
        self.single, self.alone = single, alone

    def marginals(self, candidates: int) -> FloatArray:
        """How likely each candidate is present; (c,)."""
        found = np.zeros(candidates)
        for at in (self.first, self.second):
            here = at >= 0
            found += np.bincount(at[here], weights=self.mass[here], minlength=candidates)
        return found

    def any_of(self, wanted: Sequence[bool]) -> float:
        """How likely any of the candidates that are wanted, (c,), is present."""
        of_them = np.array([*wanted, False])
        return float(self.mass @ (of_them[self.first] | of_them[self.second]))

    def likely(self, least: float = 1e-5) -> "States":
        """The sets that matter, their mass made whole."""
        keep = self.mass > least * self.mass.max()
        mass = self.mass[keep]
        return States(mass / mass.sum(), self.first[keep], self.second[keep], self.single, self.alone)

    def probability(self, leak: float, keep: FloatArray, damp: FloatArray) -> FloatArray:
        """P(a finding | each set), from what each candidate does to it, (c,); (s,)."""
        keep, damp = np.append(keep, 1.0), np.append(damp, 1.0)
        kept = keep[self.first] * keep[self.second]
        return np.asarray((1.0 - (1.0 - leak) * kept) * damp[self.first] * damp[self.second])
