"""The render trade: pictures traced in passes, shown as they get better, kept in checkpoints so that nothing is lost."""

from __future__ import annotations

import contextlib
import gc
import io
import time
from collections.abc import Callable
from pathlib import Path
from typing import Any

import numpy as np
from numpy.typing import NDArray
from PIL import Image as pictures

from hollow_marble.core.render import compose, develop, tracer
from hollow_marble.core.render.scene import Scene
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
    develop.clean(image, *tracer.trace_layers(built), hasty=True)
    del built
    gc.collect()
    return way


def developed(run: Run) -> None:
    """Trace one picture of a scene; each better one is shown."""
    wish: Develop = run.arguments
    scene: Scene = run.content[0]
    began = time.monotonic()
    exposures, earlier = _resumed(wish, 1 if scene.backdrop.plain else 2)
    stages = [_Stage(scene, wish)]
    if not scene.backdrop.plain:
        stages.append(_Stage(compose.without_product(scene), wish))
    easel = _Easel(run, wish, exposures, stages, _composer(scene, wish, stages[0]))
    exposure = exposures[0]
    shown = kept = began
    while exposure.done < wish.samples:
        run.check()
        samples = develop.next_pass(exposure.done, wish.samples)
        seed = exposure.passes
        for stage, one in zip(stages, exposures, strict=True):
            one.add(tracer.trace(stage.built, samples, seed=seed), samples)
        now = time.monotonic()
        first, last = exposure.passes == 1, exposure.done >= wish.samples
        if first or last or now - shown > max(PICTURE_EVERY, (now - began) / 5):
            easel.show(earlier + now - began)
            shown = time.monotonic()
        if wish.checkpoint is not None and not last and (first or now - kept > CHECKPOINT_EVERY):
            _checkpoint(wish.checkpoint, exposures, earlier + now - began)
            kept = time.monotonic()
    if not easel.pictures:  # all samples were there already: show what they give
        easel.show(earlier)


class _Stage:
    """A scene built for a picture, with the layers that its cleaning is guided by."""

    def __init__(self, scene: Scene, wish: Develop) -> None:
        self.built = tracer.build(scene, wish.width, wish.height)
        fine = (
            any(body.surface.relief is not None or body.surface.colour is not None for body in scene.bodies)
            and wish.samples > 16
        )
        self._layers = tracer.trace_layers(self.built, 32 if fine else 2)

    def cleaned(self, image: Image, *, hasty: bool = False) -> Image:
        """A picture of it without noise."""
        return develop.clean(image, *self._layers, hasty=hasty)

    @property
    def filled(self) -> bool:
        """Whether something stands in every pixel: what is hit has a normal."""
        return bool(self._layers[1].any(axis=2).all())


def _composer(scene: Scene, wish: Develop, stage: _Stage) -> compose.Composer:
    size = (wish.width, wish.height)
    cover = None if scene.backdrop.plain else tracer.cover_of(scene, *size)
    unseen = None
    if not scene.seen and not scene.backdrop.through and not stage.filled:
        open_ = 1 - tracer.standing_of(scene, *size)
        if (open_ > 0).any():
            unseen = compose.around(scene, scene.lens, *size) * open_[..., None]
    return compose.Composer(scene.backdrop, scene.gain, cover, unseen)


class _Easel:
    """Shows what a picture is so far. Its noise is worked out anew when the samples have doubled, and at the end."""

    def __init__(
        self,
        run: Run,
        wish: Develop,
        exposures: list[develop.Exposure],
        stages: list[_Stage],
        composer: compose.Composer,
    ) -> None:
        self._run, self._wish, self._exposures, self._stages, self._composer = run, wish, exposures, stages, composer
        self._noise: float | None = None
        self._noise_due = 8
        self.pictures = 0

    def show(self, seconds: float) -> None:
        """Send the picture, developed so far in so many seconds."""
        exposure, wanted = self._exposures[0], self._wish.samples
        done = exposure.done

        def finished(stage: _Stage, *, hasty: bool = False) -> Callable[[Image], Image]:
            return lambda image: compose.with_grain(stage.cleaned(image, hasty=hasty), image, done)

        if done >= min(self._noise_due, wanted):
            self._noise, self._noise_due = exposure.cleaned_noise(finished(self._stages[0])), 2 * done
        file = io.BytesIO()
        hasty = done < min(8, wanted)
        whole = [
            finished(stage, hasty=hasty)(one.mean) for stage, one in zip(self._stages, self._exposures, strict=True)
        ]
        shown = self._composer.bytes_of(whole[0], whole[1] if len(whole) > 1 else None)
        pictures.fromarray(shown).save(file, "PNG", compress_level=3)
        left = seconds / max(done, 1) * (wanted - done)
        news = Exposed(file.getvalue(), done, self._noise, exposure.noise(), seconds)
        self._run.progress(done / wanted, left, news)
        self.pictures += 1


def _resumed(wish: Develop, count: int) -> tuple[list[develop.Exposure], float]:
    """What an earlier worker had added up, and for how long, or a blank start."""
    if wish.checkpoint is not None and wish.checkpoint.exists():
        try:
            with np.load(wish.checkpoint) as kept:
                found = [
                    develop.Exposure(
                        kept[f"halves{k}"],
                        kept[f"squares{k}"],
                        tuple(kept[f"samples{k}"].tolist()),
                        int(kept["passes"]),
                    )
                    for k in range(count)
                ]
                if all(one.halves.shape == (2, wish.height, wish.width, 3) for one in found):
                    return found, float(kept["seconds"])
        except (OSError, ValueError, KeyError, TypeError):
            wish.checkpoint.unlink(missing_ok=True)  # half written by a worker that died; begin again
    return [develop.Exposure.blank(wish.width, wish.height) for _ in range(count)], 0.0


def _checkpoint(path: Path, exposures: list[develop.Exposure], seconds: float) -> None:
    """Keep what the passes add up to. Where there is no room for it the picture goes on all the same: only a worker that dies
    would begin anew."""
    fresh = path.with_suffix(".new.npz")
    try:
        path.parent.mkdir(parents=True, exist_ok=True)
        arrays: dict[str, Any] = {}
        for k, one in enumerate(exposures):
            arrays |= {f"halves{k}": one.halves, f"squares{k}": one.squares, f"samples{k}": np.array(one.samples)}
        np.savez(fresh, passes=exposures[0].passes, seconds=seconds, **arrays)
        fresh.replace(path)
    except OSError:
        with contextlib.suppress(OSError):
            fresh.unlink(missing_ok=True)


HANDLERS = {"develop": developed}
