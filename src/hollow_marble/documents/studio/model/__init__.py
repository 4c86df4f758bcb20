"""What a studio is made of: lamps, sets, surround, camera, finishes, and the settings and shots that hold them."""

from hollow_marble.documents.studio.model.camera import Camera, KeptView
from hollow_marble.documents.studio.model.finish import Finish, Grain, Laid, Lay
from hollow_marble.documents.studio.model.lamps import LAMPS, THREE_POINT, Card, Lamp, Light, Placed, Sky, SoftBox
from hollow_marble.documents.studio.model.marks import Artwork, Mark, Words
from hollow_marble.documents.studio.model.sets import SETS, PictureBehind, Set, Sweep
from hollow_marble.documents.studio.model.setting import Colourway, Setting, Shot, Studio, Unit
from hollow_marble.documents.studio.model.surround import BrightPanel, Flag, Surround
from hollow_marble.documents.studio.model.zones import Zone

__all__ = [
    "LAMPS", "SETS", "THREE_POINT", "Artwork", "BrightPanel", "Camera", "Card", "Colourway", "Finish", "Flag", "Grain", "KeptView", "Laid", "Lamp",
    "Lay", "Light", "Mark", "PictureBehind", "Placed", "Set", "Setting", "Shot", "Sky", "SoftBox", "Studio", "Surround", "Sweep", "Unit", "Words", "Zone",
]  # fmt: skip
