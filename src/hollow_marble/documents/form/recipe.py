"""A recipe as a graph: nodes with named inputs, each of which is another node, another part, or a line of a sheet.

A straight chain, which is what most parts are, needs nothing said: a step works on what the one before it made. A step that
names inputs of its own has them beside that. The key of a node is the hash of what it says and of its inputs' keys; it is the
only name under which anything worked out is kept.
"""

from __future__ import annotations

import hashlib
from collections.abc import Callable
from dataclasses import dataclass
from typing import Annotated, Any, Literal

import numpy as np
from numpy.typing import NDArray
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.cage.mesh import Cage
from hollow_marble.core.cage.symmetry import Mates
from hollow_marble.core.cage.symmetry import Symmetry as CoreSymmetry
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import Kernel, Solid
from hollow_marble.documents.edit import Frozen, LoadAsset

Lines = NDArray[np.float64]


class FromStep(Frozen):
    """What an earlier step of the same recipe made."""

    kind: Literal["step"] = "step"
    index: int = Field(ge=0)


class FromPart(Frozen):
    """Another part, as it is; as its step with the tag `at` leaves it; or what its step with the tag `off` takes away from it."""

    kind: Literal["part"] = "part"
    part: str
    at: str = Field("", max_length=40, exclude_if=lambda at: not at)
    off: str = Field("", max_length=40, exclude_if=lambda off: not off)


class FromSheet(Frozen):
    """A line of a sheet: the samples (N, 4) of a stroke, kept under a SHA-256."""

    kind: Literal["sheet"] = "sheet"
    samples: str


Source = Annotated[FromStep | FromPart | FromSheet, Field(discriminator="kind")]

Inputs = dict[str, Body | Lines]
"""What a node works on, by name. "of" is what the node before it made."""


@dataclass(frozen=True)
class Making:
    """What a node is worked out with beside its inputs.

    key : the node's; origin : its place and kind, which names the faces it makes; name : the part's
    tolerance : mm that a representation which cannot be exact may be off
    """

    key: str
    origin: str
    load: LoadAsset
    mates: Callable[[Cage, CoreSymmetry], Mates]
    shelf: Shelf
    kernel: Kernel
    name: str = "The part"
    tolerance: float = 0.01

    def solid(self, does: str, *arguments: Any) -> Solid:
        """What the kernel makes under a name, its faces named by this node."""
        found: Solid = self.kernel(does, self.origin, *arguments)
        return found


def without_step(step: Any, index: int) -> Any:
    """A later step after an earlier one is taken out: what it names by number moves up.

    Raises
    ------
    HollowMarbleError
        where it works on the one that is taken out.
    """
    numbered = {name: source for name, source in step.inputs.items() if isinstance(source, FromStep)}
    if any(source.index == index for source in numbered.values()):
        raise HollowMarbleError(f"A later step works on it: {step.sentence()}. Take that one out first.")
    moved = {name: FromStep(index=source.index - 1) for name, source in numbered.items() if source.index > index}
    return step.model_copy(update={"inputs": {**step.inputs, **moved}}) if moved else step


def slipped_in(steps: tuple[Any, ...], index: int, step: Any) -> tuple[Any, ...]:
    """Steps with one more before that of a number: what they name by number moves down.

    Raises
    ------
    HollowMarbleError
        where the part was stood elsewhere after that, so that the new one's places are no longer those it was made at.
    """
    if any(later.kind == "stood" for later in steps[index:]):
        raise HollowMarbleError(
            "The part was stood elsewhere after details were put on it, so that it cannot be shaped beneath them where it stands. "
            "Take that step out, shape it, and stand it again."
        )

    def moved(later: Any) -> Any:
        numbered = {
            name: FromStep(index=source.index + 1)
            for name, source in later.inputs.items()
            if isinstance(source, FromStep) and source.index >= index
        }
        return later.model_copy(update={"inputs": {**later.inputs, **numbered}}) if numbered else later

    return (*steps[:index], step, *map(moved, steps[index:]))


def key_of(text: str, inputs: dict[str, str]) -> str:
    """The key of a node that says `text` and whose inputs have these keys."""
    named = "".join(f"{name}={inputs[name]};" for name in sorted(inputs))
    return hashlib.sha256(f"{named}{text}".encode()).hexdigest()


def text_of(step: Any) -> str:
    """What a step says, as JSON."""
    text: str = step.derived("text", step.model_dump_json)
    return text


def keys_of(
    steps: tuple[Any, ...], known: tuple[str, ...] = (), parts: Callable[[FromPart], str] | None = None
) -> tuple[str, ...]:
    """The keys of a recipe's nodes in order; the first ones may be known already. `parts` gives the key of another part.

    Raises
    ------
    HollowMarbleError
        where a step takes in one that does not come before it.
    """
    keys = list(known)
    for step in steps[len(known) :]:
        inputs = {"of": keys[-1]} if keys else {}
        for name, source in step.inputs.items():
            if source.kind == "step":
                if source.index >= len(keys):
                    raise HollowMarbleError("A step can take in only what steps before it made. Choose an earlier one.")
                inputs[name] = keys[source.index]
            elif source.kind == "part":
                inputs[name] = parts(source) if parts else f"{source.part}{source.at}{source.off}"
            else:
                inputs[name] = source.samples
        keys.append(key_of(text_of(step), inputs))
    return tuple(keys)
