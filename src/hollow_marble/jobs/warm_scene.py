"""A small scene like the first one a designer photographs, to warm the tracer up."""

from __future__ import annotations

from hollow_marble.core.render.scene import Scene
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form, Part
from hollow_marble.documents.form.starts import BoxStart
from hollow_marble.documents.studio.model import THREE_POINT, Finish, Setting
from hollow_marble.documents.studio.staging import scene_of


def warm_scene() -> Scene:
    """A box with the first finish on a sweep under three lamps."""
    part = Part(id="box", name="Box", steps=(BoxStart(size=(60, 30, 100), divisions=(1, 1, 1)),))
    setting = Setting(lamps=THREE_POINT, finishes={"box": Finish()})
    return scene_of(setting, Form(parts=(part,)), FormEvaluator(_nothing), width=64)


def _nothing(sha: str) -> bytes:
    raise KeyError(sha)
