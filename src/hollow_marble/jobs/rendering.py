"""The render trade: pictures traced in passes, shown as they get better, kept in checkpoints so that nothing is lost."""

from __future__ import annotations

import contextlib
import gc
import io
import time
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.render import develop, tracer
from hollow_marble.core.render.scene import Scene
from hollow_marble.core.studio.colour import to_picture
from hollow_marble.jobs.messages import Develop, Exposed
from hollow_marble.jobs.warm_scene import warm_scene
from hollow_marble.jobs.worker import Run

FIRST_PASS = 2
LATER_PASS = 8
PICTURE_EVERY = 1.2
"""Seconds between pictures at the least; later ones come after a fifth of the time spent so far."""

CHECKPOINT_EVERY = 5.0

Layers = tuple[NDArray[np.float32], NDArray[np.float32]]


def begin(way: str) -> str:
    """Choose the library's variant, and trace a small picture with every kind of material, so that a variant that cannot run dies
    here, and the compiled kernels of the usual scene are ready before the first take is asked for."""
    if way not in ("llvm_ad_rgb", "scalar_rgb"):
        raise SystemExit(f"unknown variant {way}")
    tracer.choose_variant(way)  # type: ignore[arg-type]
    built = tracer.build(warm_scene(), 64, 40)
    image = tracer.trace(built, FIRST_PASS, 0)
    develop.clean(image, *tracer.trace_layers(built))
    del built
    gc.collect()
    return way


def developed(run: Run) -> None:
    """Develop a picture of a scene; each better one is shown."""
    wish: Develop = run.arguments
    scene: Scene = run.content[0]
    began = time.monotonic()
    exposure, earlier = _resumed(wish)
    built = tracer.build(scene, wish.width, wish.height)
    layers: Layers | None = None
    shown = kept = began
    while exposure.samples < wish.samples:
        run.check()
        samples = min(FIRST_PASS if exposure.samples == 0 else LATER_PASS, wish.samples - exposure.samples)
        exposure.add(tracer.trace(built, samples, seed=exposure.passes), samples)
        layers = layers or tracer.trace_layers(built, 2)
        now = time.monotonic()
        first, last = exposure.passes == 1, exposure.samples >= wish.samples
        if first or last or now - shown > max(PICTURE_EVERY, (now - began) / 5):
            _show(run, wish, exposure, layers, earlier + now - began)
            shown = time.monotonic()
        if wish.checkpoint is not None and not last and (first or now - kept > CHECKPOINT_EVERY):
            _checkpoint(wish.checkpoint, exposure, earlier + now - began)
            kept = time.monotonic()
    if layers is None:  # all samples were there already: show what they give
        _show(run, wish, exposure, tracer.trace_layers(built, 2), earlier)


def _show(run: Run, wish: Develop, exposure: develop.Exposure, layers: Layers, seconds: float) -> None:
    picture = to_picture(develop.clean(exposure.mean, *layers))
    file = io.BytesIO()
    Image.fromarray(picture).save(file, "PNG", compress_level=3)
    left = seconds / max(exposure.samples, 1) * (wish.samples - exposure.samples)
    news = Exposed(file.getvalue(), exposure.samples, exposure.noise(), seconds)
    run.progress(exposure.samples / wish.samples, left, news)


def _resumed(wish: Develop) -> tuple[develop.Exposure, float]:
    """What an earlier worker had added up, and for how long, or a blank start."""
    if wish.checkpoint is not None and wish.checkpoint.exists():
        try:
            with np.load(wish.checkpoint) as kept:
                exposure = develop.Exposure(kept["total"], kept["squares"], int(kept["samples"]), int(kept["passes"]))
                if exposure.total.shape == (wish.height, wish.width, 3):
                    return exposure, float(kept["seconds"])
        except (OSError, ValueError, KeyError):
            wish.checkpoint.unlink(missing_ok=True)  # half written by a worker that died; begin again
    return develop.Exposure.blank(wish.width, wish.height), 0.0


def _checkpoint(path: Path, exposure: develop.Exposure, seconds: float) -> None:
    """Keep what the passes add up to. Where there is no room for it the picture goes on all the same: only a worker that dies
    would begin anew."""
    fresh = path.with_suffix(".new.npz")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        np.savez(
            fresh,
            total=exposure.total,
            squares=exposure.squares,
            samples=exposure.samples,
            passes=exposure.passes,
            seconds=seconds,
        )
        fresh.replace(path)
    except OSError:
        with contextlib.suppress(OSError):
            fresh.unlink(missing_ok=True)


HANDLERS = {"develop": developed}
