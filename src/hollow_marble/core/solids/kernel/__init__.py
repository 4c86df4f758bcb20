"""Everything that knows the B-rep kernel. Imported late, and where possible in a process of its own: it can crash, and it can hang."""

from hollow_marble.core.solids.kernel import building, combining, dressing, meshing

DOES = {
    "turned": building.turned,
    "extruded": building.extruded,
    "piped": building.piped,
    "swept": building.swept,
    "railed": building.railed,
    "lofted": building.lofted,
    "combined": combining.combined,
    "split": combining.split,
    "repeated": combining.repeated,
    "mirrored": combining.mirrored,
    "placed": combining.placed,
    "filleted": dressing.filleted,
    "chamfered": dressing.chamfered,
    "hollowed": dressing.hollowed,
    "moved_out": dressing.moved_out,
    "capped": dressing.capped,
    "mesh": meshing.mesh,
    "bent": meshing.bent,
}
"""What can be asked of the kernel, by name."""
