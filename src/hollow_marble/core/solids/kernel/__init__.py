"""Everything that knows the B-rep kernel. Imported late, and where possible in a process of its own: it can crash, and it can hang."""

from collections.abc import Callable
from typing import Any

from OCP.Message import Message

from hollow_marble.core.solids.kernel import (
    building,
    closing,
    combining,
    dressing,
    healing,
    measuring,
    meshing,
    sculpted,
    splitting,
)

Message.DefaultMessenger_s().ChangePrinters().Clear()  # what it would print is nobody's; answers are checked

DOES: dict[str, Callable[..., Any]] = {
    "turned": building.turned,
    "extruded": building.extruded,
    "piped": building.piped,
    "swept": building.swept,
    "railed": building.railed,
    "lofted": building.lofted,
    "combined": combining.combined,
    "split": splitting.split,
    "split_by": splitting.split_by,
    "repeated": combining.repeated,
    "mirrored": combining.mirrored,
    "placed": combining.placed,
    "filleted": dressing.filleted,
    "chamfered": dressing.chamfered,
    "hollowed": dressing.hollowed,
    "moved_out": dressing.moved_out,
    "capped": closing.capped,
    "sculpted": sculpted.sculpted,
    "healed": healing.healed,
    "face_middle": measuring.face_middle,
    "away": measuring.away,
    "measures": measuring.measures,
    "measured": measuring.measured,
    "mesh": meshing.mesh,
    "bent": meshing.bent,
    "placed_on": meshing.placed_on,
}
"""What can be asked of the kernel, by name."""
