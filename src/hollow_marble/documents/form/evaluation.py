"""From recipes to bodies, working out only what changed.

A recipe is worked out node by node; what a node makes is kept under the node's key. An added step costs one step, a drag costs
only weights, and what one part costs does not depend on how many others there are.
"""

from __future__ import annotations

from collections.abc import Sequence

import numpy as np
from numpy.typing import NDArray

from hollow_marble.core.bodies.body import Body, BodyMesh
from hollow_marble.core.bodies.cage_body import cage_body
from hollow_marble.core.bodies.detailed_body import DetailedBody
from hollow_marble.core.cage.measure import Size
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates, Symmetry, find_mates, still_mates
from hollow_marble.core.detail.beside import SkinLine
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.ink.path import samples_from
from hollow_marble.core.materials import grams
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import Kernel, here
from hollow_marble.documents.edit import LoadAsset, find
from hollow_marble.documents.form.model import Form, Part, Step
from hollow_marble.documents.form.recipe import FromPart, Inputs, Making, keys_of

SHELF_BYTES = 600_000_000


class FormEvaluator:
    """Works out recipes and keeps what it found on a shelf, which may be shared: keys are hashes of content. Safe to use from
    several threads. `load` gives the bytes of an asset, `kernel` does what solids need: in this process, unless another is given."""

    def __init__(self, load: LoadAsset, shelf: Shelf | None = None, kernel: Kernel = here) -> None:
        self.load = load
        self.shelf = shelf or Shelf(SHELF_BYTES)
        self.kernel = kernel

    def body(self, part: Part, others: Sequence[Part] = ()) -> Body:
        """What a part is. `others` are the parts of its form, where its recipe takes in any of them.

        Raises
        ------
        HollowMarbleError
            where a step does not fit, naming the step.
        """
        return self._body(part, others, ()).worked_at(part.level)

    def key(self, part: Part, others: Sequence[Part] = ()) -> str:
        """The key of a part's mesh as it is worked on, without working it out."""
        return f"{self._keys(part, others, ())[-1]}-{part.level}"

    def mesh(self, part: Part, others: Sequence[Part] = ()) -> BodyMesh:
        """The mesh a part is worked on by."""
        return self.body(part, others).mesh()

    def taken(self, part: Part, tolerance: float, others: Sequence[Part] = ()) -> BodyMesh:
        """The mesh a part is photographed by: as fine as it says itself, or within a tolerance in mm."""
        body = self._body(part, others, ())
        if part.take_level is not None:
            return body.worked_at(part.take_level).mesh()
        return body.worked_at(part.level).mesh(tolerance)

    def cage(self, part: Part) -> Cage:
        """The cage a part is shaped by."""
        found = self._body(part.bare, (), ()).control
        if found is None:
            raise HollowMarbleError(f"{part.name} has no cage: it is {part.steps[0].what}, and is not shaped by one.")
        return found

    def cages(self, part: Part) -> list[Cage]:
        """The cage after every step that shapes it."""
        steps = part.bare.steps
        return [self.cage(part.model_copy(update={"steps": steps[: k + 1]})) for k in range(len(steps))]

    def after(self, cage: Cage | None, step: Step) -> Cage:
        """The cage after one more step."""
        making = self.making("", "after")
        if cage is None:
            body = step.made({}, making)
        else:
            body = step.made({"of": cage_body("", cage, "after", 1, self.shelf)}, making)
        assert body.control is not None
        return body.control

    def lines(self, part: Part, others: Sequence[Part] = ()) -> list[tuple[int, SkinLine]]:
        """The lines its steps lay on its skin, each with the number of its step."""
        found = []
        for index, step in enumerate(part.steps):
            if step.lays_line:
                body = self._body(part.model_copy(update={"steps": part.steps[: index + 1]}), others, ())
                assert isinstance(body, DetailedBody)
                assert body.laid is not None
                found.append((index, body.laid))
        return found

    def problem(self, part: Part, others: Sequence[Part] = ()) -> str | None:
        """Why a part cannot be worked out, None where it can. Worked out once for a part that stays what it is."""
        if part.takes_in_others:
            return self._problem(part, others) or None
        return part.derived("problem", lambda: self._problem(part, ())) or None

    def _problem(self, part: Part, others: Sequence[Part]) -> str:
        try:
            self.body(part, others)
        except HollowMarbleError as error:
            return str(error)
        return ""

    def known_problem(self, part: Part, others: Sequence[Part]) -> str | None:
        """The same, without working out what takes in other parts: nothing where that has not been tried yet."""
        if not part.takes_in_others:
            return self.problem(part)
        try:
            key = self._keys(part, others, ())[-1]
        except HollowMarbleError as error:
            return str(error)
        if self.shelf.known("body", key) is not None:
            return None
        found: str | None = self.shelf.known("problem", key)
        return found

    def waits(self, part: Part, others: Sequence[Part]) -> bool:
        """Whether a part is worked out when somebody looks at it, and not before what it takes in may change: it follows another body,
        which is to stay as quick to shape as it is, or it is hidden."""
        return part.takes_in_others and (not part.visible or self._follows_body(part, others, (part.id,)))

    def _follows_body(self, part: Part, others: Sequence[Part], within: tuple[str, ...]) -> bool:
        known = {other.id: other for other in others}
        taken = {source.part for step in part.steps for source in step.inputs.values() if isinstance(source, FromPart)}
        inner = [known[ident] for ident in taken if ident in known and ident not in within]
        return any(not other.draws or self._follows_body(other, others, (*within, other.id)) for other in inner)

    def shown(self, form: Form) -> list[tuple[Part, BodyMesh]]:
        """The shown parts that can be worked out, with their meshes."""
        whole = [part for part in form.parts if part.shown and self.problem(part, form.parts) is None]
        return [(part, self.mesh(part, form.parts)) for part in whole]

    def weights(self, form: Form) -> dict[str, float]:
        """Grams of every shown part that has a material and an inside, by its id, as if it were solid."""
        volumes = [(part, mesh.size.volume) for part, mesh in self.shown(form) if part.material is not None]
        return {part.id: grams(volume, part.material) for part, volume in volumes if volume > 0 and part.material}

    def size(self, form: Form) -> Size:
        """Extent of all shown parts together, their volumes and areas added."""
        low, high, volume, area = np.full(3, np.inf), np.full(3, -np.inf), 0.0, 0.0
        for _, mesh in self.shown(form):
            low, high = np.minimum(low, mesh.extent[0]), np.maximum(high, mesh.extent[1])
            volume, area = volume + mesh.size.volume, area + mesh.size.area
        extent = np.where(np.isfinite(low), high - low, 0.0)
        return Size(float(extent[0]), float(extent[1]), float(extent[2]), volume, area)

    def faces(self, form: Form) -> int:
        """How many faces the cages of the shown parts have."""
        bodies = [self.body(part, form.parts) for part, _ in self.shown(form)]
        return sum(body.control.face_count for body in bodies if body.control is not None)

    def preview(self, part: Part, step: Step, others: Sequence[Part] = ()) -> tuple[Cage, BodyMesh, NDArray[np.int64]]:
        """A part as a step that only moves points would leave it: its cage, a mesh that is filled in only in the patches told.

        Nothing is kept.
        """
        making = self.making("", "preview")
        return self.body(part.bare, others).preview(lambda cage: step.on_cage(making, cage))  # type: ignore[union-attr]

    def mates(self, cage: Cage, symmetry: Symmetry) -> Mates:
        """Which points are one another's images.

        The pairing belongs to the connectivity: once told, it holds through every move that keeps the sides alike,
        even where points come to lie on one another.
        """
        key = (cage.connectivity_key, symmetry)
        known: Mates | None = self.shelf.known("mates", key)
        if known is not None and still_mates(cage.points, known):
            return known
        found = find_mates(cage, symmetry)
        self.shelf.put("mates", key, found)
        return found

    def making(self, key: str, origin: str, name: str = "The part") -> Making:
        """What a node is worked out with."""
        return Making(key, origin, self.load, self.mates, self.shelf, self.kernel, name)

    def _keys(self, part: Part, others: Sequence[Part], within: tuple[str, ...]) -> tuple[str, ...]:
        if not part.steps:
            raise HollowMarbleError("The part has no steps. Begin it with a box or an imported cage.")
        if not part.takes_in_others:
            return part.keys
        inner = (*within, part.id)

        def key(source: FromPart) -> str:
            found = self._keys(_other(part, source, others, inner), others, inner)[-1]
            return f"{found}/off" if source.off else found

        return keys_of(part.steps, parts=key)

    def _body(self, part: Part, others: Sequence[Part], within: tuple[str, ...]) -> Body:
        keys = self._keys(part, others, within)
        done = len(keys)
        body: Body | None = None
        while done and body is None:
            body = self.shelf.known("body", keys[done - 1])
            done -= body is None
        added_one = done == len(keys) - 1  # the state before the last step is known: that step is what is new
        for index in range(done, len(keys)):
            try:
                body = self.shelf.get("body", keys[index], lambda: self._made(part, others, within, keys, index, body))  # noqa: B023
            except HollowMarbleError as error:
                said = str(error) if added_one else f"Step {index + 1} of {part.name} no longer fits: {error}"
                self.shelf.put("problem", keys[-1], said)
                if added_one:
                    raise
                raise HollowMarbleError(said) from error
        assert body is not None
        return body

    def _made(
        self,
        part: Part,
        others: Sequence[Part],
        within: tuple[str, ...],
        keys: tuple[str, ...],
        index: int,
        before: Body | None,
    ) -> Body:
        step = part.steps[index]
        inputs: Inputs = {} if before is None else {"of": before}
        for name, source in step.inputs.items():
            if source.kind == "sheet":
                inputs[name] = samples_from(self.load(source.samples)).astype(np.float64)
            elif isinstance(source, FromPart):
                inner = (*within, part.id)
                found = self._body(_other(part, source, others, inner), others, inner)
                inputs[name] = found.other_side(keys[index]) if source.off else found
            else:
                earlier = part.model_copy(update={"steps": part.steps[: source.index + 1]})
                inputs[name] = self._body(earlier, others, within)
        return step.made(inputs, self.making(keys[index], step.tag or f"{index}:{step.kind}", part.name))


def _other(part: Part, source: FromPart, others: Sequence[Part], within: tuple[str, ...]) -> Part:
    """Another part that a recipe takes in; up to a certain step where that is what it takes in."""
    other = find(others, source.part, "part")
    tag = source.off or source.at
    if tag:
        at = next((index for index, step in enumerate(other.steps) if step.tag == tag), None)
        if at is None:
            raise HollowMarbleError(
                f"{part.name} follows a step of {other.name} that was taken out. Remove {part.name}, or make that step again."
            )
        return other.model_copy(update={"steps": other.steps[: at + 1]})
    if source.part in within:
        raise HollowMarbleError(
            f"{part.name} and {other.name} are made from each other. Take one out of the other's recipe."
        )
    return other
