"""Linnet's studio: Moss on a warm sweep, two shots."""

from __future__ import annotations

from hollow_marble.demo.designer import Designer
from hollow_marble.documents.studio.edits import KeepShot, SetCamera, SetFinish, SetLamp, SetSweep
from hollow_marble.documents.studio.model import THREE_POINT, Camera, Finish, Sweep

FINISHES = (
    ("body", "Body", Finish(material="matte plastic", colour="#86A48B")),
    ("dial", "Level dial", Finish(material="polished metal", colour="#D8D3CA")),
    ("window", "Window", Finish(material="gloss plastic", colour="#17191B")),
    ("ring", "Lanyard ring", Finish(material="polished metal", colour="#C9C4BB")),
    ("foot", "Foot", Finish(material="rubber", colour="#2B2D2E")),
)


def light_studio(designer: Designer, form: str) -> str:
    """Set the studio up, keep two shots and return the studio's id."""
    studio = designer.document("studio")
    head = designer.project.ledger.row(form).head or 0
    designer.edit(studio, SetSweep(sweep=Sweep(colour="#C2BBB0", width=2400.0, depth=620.0)))
    for part, name, finish in FINISHES:
        designer.edit(studio, SetFinish(part=part, name=name, finish=finish))
    key, fill, back = THREE_POINT
    designer.edit(studio, SetLamp(lamp=key.model_copy(update={"azimuth": -58.0, "height": 42.0, "width": 320.0})))
    designer.edit(studio, SetLamp(lamp=fill.model_copy(update={"power": -1.6})))
    designer.edit(studio, SetLamp(lamp=back.model_copy(update={"power": 0.6})))
    designer.edit(studio, SetCamera(camera=Camera(focal=85.0, distance=560.0, azimuth=26.0, height=150.0, aim=58.0)))
    hero = KeepShot(id="hero", name="Hero", width=840, height=560, form=form, form_edit=head)
    designer.edit(studio, hero)
    designer.edit(studio, SetCamera(camera=Camera(focal=100.0, distance=640.0, azimuth=-8.0, height=70.0, aim=58.0)))
    designer.edit(studio, KeepShot(id="front", name="Front", width=840, height=560, form=form, form_edit=head))
    return studio
