"""From recipes to cages and skins, working out only what changed.

A recipe is a fold over its steps. The cage after each step is kept under a hash of the steps so far, a skin plan
under the cage's connectivity, a skin under both, so an added step costs one step and a drag costs only weights.
"""

from __future__ import annotations

import hashlib
from collections import OrderedDict
from collections.abc import Callable
from dataclasses import dataclass
from threading import RLock
from typing import TypeVar

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.cage.measure import Size, measure
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.skin import Skin, SkinPlan, empty_skin, evaluate, evaluate_patches, plan_skin
from hollow_marble.core.cage.symmetry import Mates, Symmetry, find_mates, still_mates
from hollow_marble.core.cage.weld import weld, welded_mesh
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.materials import grams
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.form.folding import after
from hollow_marble.documents.form.model import Form, Part, Step
from hollow_marble.documents.form.still import StillBody, still_body

K = TypeVar("K")
V = TypeVar("V")


@dataclass(frozen=True)
class Shaped:
    """A part worked out: its cage, the plan of its skin and the skin; `key` names the state for caches."""

    key: str
    cage: Cage
    plan: SkinPlan
    skin: Skin

    @property
    def triangles(self) -> NDArray[np.uint32]:
        """(T, 3) point numbers into the skin."""
        return self.plan.triangles

    @property
    def closed(self) -> bool:
        """Whether it has an inside."""
        return bool((self.cage.topology.twin >= 0).all())


class FormEvaluator:
    """Works out recipes and keeps what it found. Safe to call from several threads."""

    def __init__(self, load: LoadAsset) -> None:
        self._load = load
        self._lock = RLock()
        self._cages: OrderedDict[str, Cage] = OrderedDict()
        self._folded: OrderedDict[int, tuple[Part, str, Cage]] = OrderedDict()
        self._plans: OrderedDict[bytes, SkinPlan] = OrderedDict()
        self._shaped: OrderedDict[tuple[str, int], Shaped] = OrderedDict()
        self._welds: OrderedDict[bytes, NDArray[np.int64]] = OrderedDict()
        self._mates: OrderedDict[tuple[bytes, Symmetry], Mates] = OrderedDict()
        self._still: OrderedDict[str, StillBody] = OrderedDict()

    def cage(self, part: Part) -> Cage:
        """The cage after the last step."""
        return self._fold(part)[1]

    def shaped(self, part: Part, level: int | None = None) -> Shaped:
        """The part's cage and skin at its own level, or at another one."""
        level = level or part.level
        key, cage = self._fold(part)
        with self._lock:
            found = self._shaped.get((key, level))
            if found is None:
                plan = self.plan(cage, level)
                found = _keep(self._shaped, (key, level), Shaped(key, cage, plan, evaluate(plan, cage.points)), 24)
            return found

    def plan(self, cage: Cage, level: int) -> SkinPlan:
        """The skin plan of a cage's connectivity."""
        name = hashlib.sha256(cage.connectivity() + bytes([level])).digest()
        return self._kept(self._plans, name, lambda: plan_skin(cage, level), 24)

    def weld(self, shaped: Shaped) -> NDArray[np.int64]:
        """Number of the welded point behind each skin point."""
        name = hashlib.sha256(shaped.cage.connectivity() + bytes([shaped.plan.level])).digest()
        return self._kept(self._welds, name, lambda: weld(shaped.cage, shaped.plan), 24)

    def body(self, part: Part, level: int | None = None) -> Shaped | StillBody:
        """What of a part is seen: its skin, or the mesh of a still body."""
        return self.still(part) if part.still else self.shaped(part, level)

    def still(self, part: Part) -> StillBody:
        """The mesh of a still body where it stands."""
        key = hashlib.sha256("".join(step_json(step) for step in part.steps).encode()).hexdigest()
        with self._lock:
            found = self._still.get(key)
            if found is None:
                found = _keep(self._still, key, still_body(key, part, self._load), 8)
            return found

    def mesh(self, part: Part, level: int | None = None) -> tuple[NDArray[np.float64], NDArray[np.int64]]:
        """Welded points (M, 3) mm and triangles (T, 3) of what of a part is seen."""
        body = self.body(part, level)
        if isinstance(body, StillBody):
            return body.skin.positions.astype(np.float64), body.triangles.astype(np.int64)
        return welded_mesh(body.skin.positions, body.plan.triangles, self.weld(body))

    def weights(self, form: Form) -> dict[str, float]:
        """Grams of every shown part that has a material and an inside, by its id, as if it were solid."""
        found = {}
        for part in form.parts:
            if part.visible and part.material is not None:
                body = self.body(part)
                volume = measure(body.skin.positions, body.triangles, body.closed).volume
                if volume > 0:
                    found[part.id] = grams(volume, part.material)
        return found

    def size(self, form: Form) -> Size:
        """Extent of all shown parts together, their volumes and areas added."""
        low, high, volume, area = np.full(3, np.inf), np.full(3, -np.inf), 0.0, 0.0
        for part in form.parts:
            if not part.visible:
                continue
            body = self.body(part)
            own = measure(body.skin.positions, body.triangles, body.closed)
            low = np.minimum(low, body.skin.positions.min(axis=0))
            high = np.maximum(high, body.skin.positions.max(axis=0))
            volume, area = volume + own.volume, area + own.area
        extent = np.where(np.isfinite(low), high - low, 0.0)
        return Size(float(extent[0]), float(extent[1]), float(extent[2]), volume, area)

    def preview(self, part: Part, step: Step, base: Skin | None = None) -> tuple[Shaped, NDArray[np.int64]]:
        """The part as a step that only moves points would leave it, and the patches that differ.

        Nothing is kept. The skin holds valid values only in those patches unless `base` is given to write into.
        """
        before = self.shaped(part)
        cage = self.after(before.cage, step)
        moved = (cage.points != before.cage.points).any(axis=1)
        patches = before.plan.patches_moved_by(moved)
        skin = base or empty_skin(before.plan)
        evaluate_patches(before.plan, cage.points, patches, skin)
        return Shaped(before.key, cage, before.plan, skin), patches

    def after(self, cage: Cage | None, step: Step) -> Cage:
        """The cage after one more step."""
        return after(cage, step, self._load, self.mates)

    def mates(self, cage: Cage, symmetry: Symmetry) -> Mates:
        """Which points are one another's images.

        The pairing belongs to the connectivity: once told, it holds through every move that keeps the sides alike,
        even where points come to lie on one another.
        """
        name = (hashlib.sha256(cage.connectivity()).digest(), symmetry)
        known = self._mates.get(name)
        if known is not None and still_mates(cage.points, known):
            return known
        with self._lock:
            return _keep(self._mates, name, find_mates(cage, symmetry), 64)

    def cages(self, part: Part) -> list[Cage]:
        """The cage after every step."""
        return [self.cage(part.model_copy(update={"steps": part.steps[: k + 1]})) for k in range(len(part.steps))]

    def _fold(self, part: Part) -> tuple[str, Cage]:
        with self._lock:
            known = self._folded.get(id(part))
            if known is not None and known[0] is part:
                return known[1], known[2]
            keys, key = [], ""
            for step in part.steps:
                key = hashlib.sha256(f"{key}{step_json(step)}".encode()).hexdigest()
                keys.append(key)
            done = len(keys)
            cage: Cage | None = None
            while done and cage is None:
                cage = self._cages.get(keys[done - 1])
                done -= cage is None
            added_one = done == len(keys) - 1  # the state before the last step is known: that step is what is new
            for index in range(done, len(keys)):
                try:
                    cage = self.after(cage, part.steps[index])
                except HollowMarbleError as error:
                    if added_one:
                        raise
                    raise HollowMarbleError(f"Step {index + 1} of {part.name} no longer fits: {error}") from error
                _keep(self._cages, keys[index], cage, 256)
            if cage is None:
                raise HollowMarbleError("The part has no steps. Begin it with a box or an imported cage.")
            _keep(self._folded, id(part), (part, key, cage), 64)
            return key, cage

    def _kept(self, cache: OrderedDict[bytes, V], key: bytes, make: Callable[[], V], most: int) -> V:
        with self._lock:
            found = cache.get(key)
            if found is None:
                found = _keep(cache, key, make(), most)
            else:
                cache.move_to_end(key)
            return found


def step_json(step: Step) -> str:
    """The step's JSON, worked out once an object."""
    text = step.__dict__.get("_json")
    if text is None:
        text = step.model_dump_json()
        step.__dict__["_json"] = text
    return str(text)


def _keep(cache: OrderedDict[K, V], key: K, value: V, most: int) -> V:
    cache[key] = value
    while len(cache) > most:
        cache.popitem(last=False)
    return value
