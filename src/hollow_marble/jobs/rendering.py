"""The render trade: pictures traced in passes, shown as they get better, kept in checkpoints so that nothing is lost."""

from __future__ import annotations

import contextlib
import gc
import io
import time
from collections.abc import Callable
from pathlib import Path

import numpy as np
from numpy.typing import NDArray
from PIL import Image as pictures

from hollow_marble.core.render import develop, tracer
from hollow_marble.core.render.scene import Scene
from hollow_marble.core.studio.colour import to_picture
from hollow_marble.jobs.messages import Develop, Exposed
from hollow_marble.jobs.warm_scene import warm_scene
from hollow_marble.jobs.worker import Run

PICTURE_EVERY = 1.2
"""Seconds between pictures at the least; later ones come after a fifth of the time spent so far."""

CHECKPOINT_EVERY = 5.0

Image = NDArray[np.float32]


def begin(way: str) -> str:
    """Choose the library's variant, and trace a small picture with every kind of material, so that a variant that cannot run dies
    here, and the compiled kernels of the usual scene are ready before the first take is asked for."""
    if way not in ("llvm_ad_rgb", "scalar_rgb"):
        raise SystemExit(f"unknown variant {way}")
    tracer.choose_variant(way)  # type: ignore[arg-type]
    built = tracer.build(warm_scene(), 64, 40)
    image = tracer.trace(built, develop.next_pass(0, 2), 0)
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
    albedo, normal = tracer.trace_layers(built, 2)
    easel = _Easel(run, wish, exposure, lambda image: develop.clean(image, albedo, normal))
    shown = kept = began
    while exposure.done < wish.samples:
        run.check()
        samples = develop.next_pass(exposure.done, wish.samples)
        exposure.add(tracer.trace(built, samples, seed=exposure.passes), samples)
        now = time.monotonic()
        first, last = exposure.passes == 1, exposure.done >= wish.samples
        if first or last or now - shown > max(PICTURE_EVERY, (now - began) / 5):
            easel.show(earlier + now - began)
            shown = time.monotonic()
        if wish.checkpoint is not None and not last and (first or now - kept > CHECKPOINT_EVERY):
            _checkpoint(wish.checkpoint, exposure, earlier + now - began)
            kept = time.monotonic()
    if not easel.pictures:  # all samples were there already: show what they give
        easel.show(earlier)


class _Easel:
    """Shows what a picture is so far. Its noise is worked out anew when the samples have doubled, and at the end."""

    def __init__(self, run: Run, wish: Develop, exposure: develop.Exposure, cleaned: Callable[[Image], Image]) -> None:
        self._run, self._wish, self._exposure, self._cleaned = run, wish, exposure, cleaned
        self._noise: float | None = None
        self._noise_due = 8
        self.pictures = 0

    def show(self, seconds: float) -> None:
        """Send the picture, developed so far in so many seconds."""
        exposure, wanted = self._exposure, self._wish.samples
        done = exposure.done
        if done >= min(self._noise_due, wanted):
            self._noise, self._noise_due = exposure.cleaned_noise(self._cleaned), 2 * done
        file = io.BytesIO()
        pictures.fromarray(to_picture(self._cleaned(exposure.mean))).save(file, "PNG", compress_level=3)
        left = seconds / max(done, 1) * (wanted - done)
        news = Exposed(file.getvalue(), done, self._noise, exposure.noise(), seconds)
        self._run.progress(done / wanted, left, news)
        self.pictures += 1


def _resumed(wish: Develop) -> tuple[develop.Exposure, float]:
    """What an earlier worker had added up, and for how long, or a blank start."""
    if wish.checkpoint is not None and wish.checkpoint.exists():
        try:
            with np.load(wish.checkpoint) as kept:
                even, odd = kept["samples"].tolist()
                exposure = develop.Exposure(kept["halves"], kept["squares"], (even, odd), int(kept["passes"]))
                if exposure.halves.shape == (2, wish.height, wish.width, 3):
                    return exposure, float(kept["seconds"])
        except (OSError, ValueError, KeyError, TypeError):
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
            halves=exposure.halves,
            squares=exposure.squares,
            samples=np.array(exposure.samples),
            passes=exposure.passes,
            seconds=seconds,
        )
        fresh.replace(path)
    except OSError:
        with contextlib.suppress(OSError):
            fresh.unlink(missing_ok=True)


HANDLERS = {"develop": developed}
