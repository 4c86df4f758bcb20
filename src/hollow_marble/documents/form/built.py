"""Steps that build: surfaces and solids that follow curves, and what is done with solids. Lengths mm, angles degrees."""

from __future__ import annotations

from typing import Annotated, ClassVar, Literal

import numpy as np
from pydantic import Field

from hollow_marble.core.bodies.body import Body
from hollow_marble.core.bodies.meshed import combined_meshes
from hollow_marble.core.bodies.solid_body import CurveBody, SolidBody
from hollow_marble.core.bodies.still_body import StillBody
from hollow_marble.core.curves.planes import UPRIGHT, Plane
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.core.solids.solid import EdgeName, Solid
from hollow_marble.documents.edit import Frozen
from hollow_marble.documents.form.curves import curve_in
from hollow_marble.documents.form.recipe import Inputs, Making, key_of
from hollow_marble.documents.form.steps import LETTERS, LEVEL, Length, Letter, Node, Vector, body_in, counted

BROUGHT_MEDIA = "application/x-brep"
"""What the kernel's bytes of a solid are kept as."""

Size = Annotated[float, Field(gt=0, le=100_000)]
How = Literal["join", "cut away", "keep common"]


class SolidStep(Node):
    """A step whose outcome is a solid, or an open surface, of the B-rep kernel."""

    what: ClassVar[str] = "a built form"

    gives_shape: ClassVar[bool] = False
    keeps_cage: ClassVar[bool] = False

    def made(self, inputs: Inputs, making: Making) -> Body:
        return SolidBody(making.key, self.solid(inputs, making), making.kernel, LEVEL, making.shelf)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        """What it makes. Raises HollowMarbleError where its inputs do not fit."""
        raise NotImplementedError


class BuiltStep(SolidStep):
    """A step that builds a form of curves: a part begins with it, or it is joined to, cut away from or kept in common with what was
    there, the seam rounded by `blend`; only what lies within the body taken in as "within", where there is one."""

    how: How = "join"
    blend: float = Field(0.0, ge=0, le=10_000)

    def form(self, inputs: Inputs, making: Making) -> Solid:
        """What it builds, by itself."""
        raise NotImplementedError

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        found = making.shelf.get("built", self._own_key(inputs, making.origin), lambda: self.form(inputs, making))
        if "within" in inputs:
            room = solid_in(inputs, making, "within")
            found = making.kernel("combined", f"{making.origin}.within", found, room, "keep common")
        if "of" not in inputs:
            return found
        before = solid_in(inputs, making)
        return making.solid("combined", before, found, self.how, self.blend)

    def _own_key(self, inputs: Inputs, origin: str) -> str:
        """Names what it builds by itself, whatever it meets: what was there changes nothing about that."""
        own = {
            name: found.key
            for name, found in inputs.items()
            if name not in ("of", "within") and isinstance(found, Body)
        }
        return key_of(f"{origin}{self.model_dump_json(exclude={'how', 'blend', 'inputs'})}", own)

    def words(self) -> str:
        """What it builds, in words."""
        raise NotImplementedError

    def sentence(self) -> str:
        blend = f", its seam rounded by {self.blend:g} mm" if self.blend else ""
        way = {"join": "", "cut away": ", cut away", "keep common": ", kept in common"}[self.how]
        return f"{self.words()}{way}{blend}"


class TurnedProfile(BuiltStep):
    """A profile turned about a line of its plane: upright through, or level at, `at` mm from its origin."""

    kind: Literal["turned_profile"] = "turned_profile"
    about: Literal["up", "across"] = "up"
    at: Length = 0.0
    angle: float = Field(360.0, gt=0, le=360)
    capped: bool = True

    def form(self, inputs: Inputs, making: Making) -> Solid:
        profile = curve_in(inputs, "profile").drawn
        place, way = ((self.at, 0.0), (0.0, 1.0)) if self.about == "up" else ((0.0, self.at), (1.0, 0.0))
        axis = np.array(place), np.array(way)
        return making.solid("turned", profile, axis, self.angle, self.capped)

    def words(self) -> str:
        return "Turned a profile" if self.angle == 360 else f"Turned a profile by {self.angle:g}°"


class ExtrudedProfile(BuiltStep):
    """A flat profile drawn out square to its plane: `distance` one way, `back` the other, narrowing by `taper` degrees."""

    kind: Literal["extruded_profile"] = "extruded_profile"
    distance: Length = 10.0
    back: Length = 0.0
    taper: float = Field(0.0, ge=-60, le=60)

    def form(self, inputs: Inputs, making: Making) -> Solid:
        profile = curve_in(inputs, "profile").drawn
        return making.solid("extruded", profile, self.distance, self.back, self.taper)

    def words(self) -> str:
        taper = f" with a taper of {self.taper:g}°" if self.taper else ""
        return f"Extruded a profile by {self.distance + self.back:g} mm{taper}"


class SweptProfile(BuiltStep):
    """A flat profile carried along a path, square to it, its plane's origin on the path."""

    kind: Literal["swept_profile"] = "swept_profile"
    turn: float = Field(0.0, ge=-360, le=360)
    twist: float = Field(0.0, ge=-3600, le=3600)
    scale: float = Field(1.0, gt=0.01, le=100)
    capped: bool = True

    def form(self, inputs: Inputs, making: Making) -> Solid:
        profile, path = curve_in(inputs, "profile").drawn, curve_in(inputs, "path").drawn
        args = (profile, path, self.twist, self.scale, self.turn, self.capped)
        return making.solid("swept", *args)

    def words(self) -> str:
        twist = f", twisting by {self.twist:g}°" if self.twist else ""
        return f"Swept a profile along a path{twist}"


class RailedProfile(BuiltStep):
    """A flat profile carried between two rails, growing with their distance."""

    kind: Literal["railed_profile"] = "railed_profile"
    capped: bool = True

    def form(self, inputs: Inputs, making: Making) -> Solid:
        profile, left, right = (curve_in(inputs, name).drawn for name in ("profile", "left", "right"))
        return making.solid("railed", profile, left, right, self.capped)

    def words(self) -> str:
        return "Ran a profile along two rails"


class PipedPath(BuiltStep):
    """A path with a round section."""

    kind: Literal["piped_path"] = "piped_path"
    radius: Size = 3.0
    capped: bool = True

    def form(self, inputs: Inputs, making: Making) -> Solid:
        path = curve_in(inputs, "path").drawn
        return making.solid("piped", path, self.radius, self.capped)

    def words(self) -> str:
        return f"Piped a path with a radius of {self.radius:g} mm"


class LoftedProfiles(BuiltStep):
    """From profile to profile, in the order of their input names: smoothly or straight; `begin`, `end`: how strongly it leaves the
    first plane, and arrives at the last, square to it; 1 is as strongly as it has way to go."""

    kind: Literal["lofted_profiles"] = "lofted_profiles"
    straight: bool = False
    begin: float = Field(0.0, ge=0, le=3)
    end: float = Field(0.0, ge=0, le=3)
    capped: bool = True

    def form(self, inputs: Inputs, making: Making) -> Solid:
        names = sorted((name for name in inputs if name.startswith("profile")), key=lambda name: (len(name), name))
        profiles = [curve_in(inputs, name).drawn for name in names]
        return making.solid("lofted", profiles, self.straight, (self.begin, self.end), self.capped)

    def words(self) -> str:
        return f"Lofted through {counted(sum(name.startswith('profile') for name in self.inputs), 'profile')}"


class BroughtSolid(SolidStep):
    """Begin with a solid read from a file; `shape` is the SHA-256 of the kernel's bytes, `faces` the number of its faces, `note` what was
    the matter with it."""

    kind: Literal["brought_solid"] = "brought_solid"
    shape: str
    name: str
    faces: int = Field(gt=0, le=200_000)
    volume: float = Field(0.0, ge=0)
    closed: bool = True
    note: str = Field("", max_length=400)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        names = tuple(f"{making.origin}.face-{k + 1}" for k in range(self.faces))
        return Solid(making.load(self.shape), names, self.volume, self.closed, (self.note,) if self.note else ())

    def sentence(self) -> str:
        return f"Brought in the solid {self.name}, {counted(self.faces, 'face')}"


class HealedSolid(SolidStep):
    """Sew gaps, fix edges, and make a solid where it closes; what rests on its faces by name is asked anew."""

    kind: Literal["healed"] = "healed"

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        return making.solid("healed", solid_in(inputs, making))

    def sentence(self) -> str:
        return "Healed the solid"


class MadeExact(SolidStep):
    """Make exact faces of the cage's skin: from here on it is a solid. A part that begins with it follows another one (`name`, taken in
    as "of"), which stays as quick to sculpt as it was."""

    kind: Literal["exact"] = "exact"
    name: str = Field("", max_length=60)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        return solid_in(inputs, making)

    def sentence(self) -> str:
        return f"Made a solid that follows {self.name}" if self.name else "Made exact faces of the skin"


class Combined(SolidStep):
    """Join another part, cut it away, or keep what is common; the seam rounded by `blend`. Where one of the two is a still body, meshes
    are combined and the outcome is a still body."""

    kind: Literal["combined"] = "combined"
    how: How = "join"
    blend: float = Field(0.0, ge=0, le=10_000)
    name: str = Field("", max_length=60)

    def made(self, inputs: Inputs, making: Making) -> Body:
        one, other = body_in(inputs), body_in(inputs, "other")
        if isinstance(one, StillBody) or isinstance(other, StillBody):
            if self.blend:
                raise HollowMarbleError("A still body has no exact seam to round. Set the blend to 0.")
            return combined_meshes(making.key, one, other, self.how, making.shelf)
        return super().made(inputs, making)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        one, other = solid_in(inputs, making), solid_in(inputs, making, "other")
        return making.solid("combined", one, other, self.how, self.blend)

    def sentence(self) -> str:
        other = self.name or "another part"
        blend = f", the seam rounded by {self.blend:g} mm" if self.blend else ""
        if self.how == "join":
            return f"Joined {other}{blend}"
        return f"Cut away {other}{blend}" if self.how == "cut away" else f"Kept what is common with {other}{blend}"


class PickedEdge(Frozen):
    """An edge by the faces it lies between, its middle and its length."""

    faces: tuple[str, str]
    middle: Vector
    length: float = Field(ge=0)

    def core(self) -> EdgeName:
        """The same for the kernel."""
        return EdgeName(self.faces, self.middle, self.length)


PickedEdges = Annotated[tuple[PickedEdge, ...], Field(min_length=1, max_length=2000)]


class RoundedEdges(SolidStep):
    """Round edges: with one radius, or with another at their ends."""

    kind: Literal["rounded"] = "rounded"
    edges: PickedEdges
    radius: Size = 2.0
    end: float | None = Field(None, gt=0, le=100_000)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        edges = tuple(edge.core() for edge in self.edges)
        return making.solid("filleted", solid_in(inputs, making), edges, self.radius, self.end)

    def sentence(self) -> str:
        edges = counted(len(self.edges), "edge")
        if self.end is not None:
            return f"Rounded {edges} by {self.radius:g} mm, {self.end:g} mm at the end"
        return f"Rounded {edges} by {self.radius:g} mm"


class ChamferedEdges(SolidStep):
    """Cut edges off at a width."""

    kind: Literal["chamfered"] = "chamfered"
    edges: PickedEdges
    width: Size = 1.0

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        edges = tuple(edge.core() for edge in self.edges)
        return making.solid("chamfered", solid_in(inputs, making), edges, self.width)

    def sentence(self) -> str:
        return f"Chamfered {counted(len(self.edges), 'edge')} by {self.width:g} mm"


class Hollowed(SolidStep):
    """Hollow to a wall; faces by name are taken away and leave openings."""

    kind: Literal["hollowed"] = "hollowed"
    wall: Size = 1.6
    open: Annotated[tuple[str, ...], Field(max_length=200)] = ()

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        return making.solid("hollowed", solid_in(inputs, making), self.wall, self.open)

    def sentence(self) -> str:
        openings = f", {counted(len(self.open), 'face')} open" if self.open else ""
        return f"Hollowed to a wall of {self.wall:g} mm{openings}"


class MovedOut(SolidStep):
    """The skin further out, or in where negative."""

    kind: Literal["moved_out"] = "moved_out"
    distance: Length

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        return making.solid("moved_out", solid_in(inputs, making), self.distance)

    def sentence(self) -> str:
        return f"Moved the skin {'out' if self.distance >= 0 else 'in'} by {abs(self.distance):g} mm"


class Capped(SolidStep):
    """Close flat openings."""

    kind: Literal["capped"] = "capped"

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        return making.solid("capped", solid_in(inputs, making))

    def sentence(self) -> str:
        return "Capped its openings"


class SplitSolid(SolidStep):
    """Keep what lies on one side, half a gap away from it: of a plane square to a direction at a place, of the plane of a flat curve
    ("plane"), or of an open curve drawn through it, or an open surface ("by")."""

    kind: Literal["split_solid"] = "split_solid"
    axis: Letter = "H"
    at: Length = 0.0
    gap: float = Field(0.0, ge=0, le=10_000)
    above: bool = True

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        whole = solid_in(inputs, making)
        if "by" in inputs:
            body = body_in(inputs, "by")
            by = body.drawn if isinstance(body, CurveBody) else body.exact(making.kernel)
            return making.solid("split_by", whole, by, self.gap, self.above)
        plane = _square_to(self.axis, self.at)
        if "plane" in inputs:
            plane = curve_in(inputs, "plane").drawn.flat("a split")
        return making.solid("split", whole, plane, self.gap, self.above)

    def where(self) -> str:
        """What it is split by, in words."""
        if "by" in self.inputs:
            return "what passes through it"
        return "a curve's plane" if "plane" in self.inputs else f"{self.axis} {self.at:g} mm"

    def sentence(self) -> str:
        gap = f" with a gap of {self.gap:g} mm" if self.gap else ""
        return f"Split at {self.where()}, kept what is {'above' if self.above else 'below'}{gap}"


class RepeatedAlong(SolidStep):
    """So many of it, each a step further, joined where they meet."""

    kind: Literal["repeated_along"] = "repeated_along"
    count: int = Field(2, ge=2, le=200)
    step: Vector = (20.0, 0.0, 0.0)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        if not any(self.step):
            raise HollowMarbleError("Copies that stand in the same place cannot be told apart. Give them a step.")
        return making.solid("repeated", solid_in(inputs, making), self.count, self.step, None)

    def sentence(self) -> str:
        return f"Repeated it {self.count} times along a line"


class RepeatedRound(SolidStep):
    """So many of it round an axis, over an angle, joined where they meet."""

    kind: Literal["repeated_round"] = "repeated_round"
    count: int = Field(6, ge=2, le=400)
    axis: Letter = "H"
    at: Vector = (0.0, 0.0, 0.0)
    angle: float = Field(360.0, gt=0, le=360)

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        each = self.angle / (self.count if self.angle == 360 else self.count - 1)
        about = np.array(self.at), np.eye(3)[LETTERS.index(self.axis)], each
        return making.solid("repeated", solid_in(inputs, making), self.count, None, about)

    def sentence(self) -> str:
        return f"Repeated it {self.count} times round {self.axis}"


class MirroredSolid(SolidStep):
    """It and its mirror image across a plane square to a direction, joined where they meet."""

    kind: Literal["mirrored_solid"] = "mirrored_solid"
    axis: Letter = "W"
    at: Length = 0.0

    def solid(self, inputs: Inputs, making: Making) -> Solid:
        plane = _square_to(self.axis, self.at)
        return making.solid("mirrored", solid_in(inputs, making), plane)

    def sentence(self) -> str:
        return f"Mirrored it across {self.axis}"


def _square_to(axis: Letter, at: float) -> Plane:
    plane = {"W": UPRIGHT["side"], "D": UPRIGHT["front"], "H": UPRIGHT["top"]}[axis]
    way = np.eye(3)[LETTERS.index(axis)]
    side = float(np.sign(plane.normal @ way))
    return Plane(at * way, side * plane.across, plane.up)


def solid_in(inputs: Inputs, making: Making, name: str = "of") -> Solid:
    """A body among a node's inputs, as a solid."""
    return body_in(inputs, name).exact(making.kernel)
