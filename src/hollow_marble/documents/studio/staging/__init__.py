"""A setting worked out: where everything stands, what the lamps give, and the scene to be traced.

* `placing`: products, lamps and the lens in place
* `dressing`: finishes and papers as surfaces
* `surroundings`: the surround as a map
* `scenes`: all of it as a scene
* `facts`: what it means
"""

from hollow_marble.documents.studio.staging.facts import Facts, LampFacts, beyond_of, facts_of, widened
from hollow_marble.documents.studio.staging.placing import StagedLamp, StagedUnit, Staging, in_picture, stage
from hollow_marble.documents.studio.staging.scenes import (
    check_outside,
    front_of,
    gain_of,
    pixel_size,
    scene_of,
    shown,
)
from hollow_marble.documents.studio.staging.surroundings import painted_surround, surround_map

__all__ = [
    "Facts", "LampFacts", "StagedLamp", "StagedUnit", "Staging", "beyond_of", "check_outside", "facts_of", "front_of", "gain_of", "in_picture",
    "painted_surround", "pixel_size", "scene_of", "shown", "stage", "surround_map", "widened",
]  # fmt: skip
