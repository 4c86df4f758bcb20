"""The process that traces pictures.

Started by `tracer_process` with the variant as its argument. Reads messages from standard input and answers on
standard output; anything a library prints goes to standard error.
"""

from __future__ import annotations

import gc
import io
import os
import queue
import sys
import threading
import time
from pathlib import Path
from typing import Any, BinaryIO

import numpy as np
from numpy.typing import NDArray
from PIL import Image

from hollow_marble.core.render import develop, tracer
from hollow_marble.core.studio.colour import to_picture
from hollow_marble.jobs.framing import receive, send
from hollow_marble.jobs.messages import Develop, Finished, Progress, Ready, Stop

FIRST_PASS = 2
LATER_PASS = 8
PICTURE_EVERY = 1.2
"""Seconds between pictures at the least; later ones come after a fifth of the time spent so far."""

CHECKPOINT_EVERY = 5.0


class Stopped(Exception):
    """The picture was given up."""


class Worker:
    """Develops one picture at a time; a thread listens for stops meanwhile."""

    def __init__(self, incoming: BinaryIO, outgoing: BinaryIO) -> None:
        self._in, self._out = incoming, outgoing
        self._jobs: queue.Queue[Develop | None] = queue.Queue()
        self._stopped: set[int] = set()
        threading.Thread(target=self._listen, daemon=True).start()

    def run(self, variant: tracer.Variant) -> None:
        tracer.choose_variant(variant)
        _probe()
        self._say(Ready(variant))
        while (job := self._jobs.get()) is not None:
            try:
                self._develop(job)
                self._say(Finished(job.take))
            except Stopped:
                self._say(Finished(job.take, stopped=True))
            except Exception as error:
                self._say(Finished(job.take, problem=f"The picture could not be rendered: {error}"))
            # the scene just shown is let go at once: a scene built beside it gets other numbers in its kernels, which
            # are then compiled anew (measured: 0.75 s instead of 0.17 s to the first pass)
            gc.collect()

    def _say(self, message: object) -> None:
        send(self._out, message)

    def _listen(self) -> None:
        while True:
            try:
                message = receive(self._in)
            except (EOFError, OSError):
                os._exit(0)  # the server is gone; nobody waits for this picture
            if isinstance(message, Stop):
                self._stopped.add(message.run)
            else:
                self._jobs.put(message)

    def _develop(self, job: Develop) -> None:
        began = time.monotonic()
        exposure, earlier = _resume(job)
        built = tracer.build(job.scene, job.width, job.height)
        layers: tuple[NDArray[np.float32], NDArray[np.float32]] | None = None
        shown = kept = began
        while exposure.samples < job.samples:
            if job.run in self._stopped:
                raise Stopped
            samples = min(FIRST_PASS if exposure.samples == 0 else LATER_PASS, job.samples - exposure.samples)
            exposure.add(tracer.trace(built, samples, seed=exposure.passes), samples)
            layers = layers or tracer.trace_layers(built, 2)
            now = time.monotonic()
            first, last = exposure.passes == 1, exposure.samples >= job.samples
            if first or last or now - shown > max(PICTURE_EVERY, (now - began) / 5):
                self._show(job, exposure, layers, earlier + now - began)
                shown = time.monotonic()
            if job.checkpoint is not None and not last and (first or now - kept > CHECKPOINT_EVERY):
                _checkpoint(job.checkpoint, exposure, earlier + now - began)
                kept = time.monotonic()

    def _show(
        self,
        job: Develop,
        exposure: develop.Exposure,
        layers: tuple[NDArray[np.float32], NDArray[np.float32]],
        seconds: float,
    ) -> None:
        picture = to_picture(develop.clean(exposure.mean, *layers))
        file = io.BytesIO()
        Image.fromarray(picture).save(file, "PNG", compress_level=3)
        self._say(Progress(job.take, file.getvalue(), exposure.samples, exposure.noise(), seconds))


def _resume(job: Develop) -> tuple[develop.Exposure, float]:
    """What an earlier worker had added up, and for how long, or a blank start."""
    if job.checkpoint is not None and job.checkpoint.exists():
        try:
            with np.load(job.checkpoint) as kept:
                exposure = develop.Exposure(kept["total"], kept["squares"], int(kept["samples"]), int(kept["passes"]))
                if exposure.total.shape == (job.height, job.width, 3):
                    return exposure, float(kept["seconds"])
        except (OSError, ValueError, KeyError):
            job.checkpoint.unlink(missing_ok=True)  # half written by a worker that died; begin again
    return develop.Exposure.blank(job.width, job.height), 0.0


def _checkpoint(path: Path, exposure: develop.Exposure, seconds: float) -> None:
    path.parent.mkdir(parents=True, exist_ok=True)
    fresh = path.with_suffix(".new.npz")
    np.savez(
        fresh,
        total=exposure.total,
        squares=exposure.squares,
        samples=exposure.samples,
        passes=exposure.passes,
        seconds=seconds,
    )
    fresh.replace(path)


def _probe() -> None:
    """Trace a small picture with every kind of material, so that a variant that cannot run dies here, and the
    compiled kernels of the usual scene are ready before the first take is asked for."""
    from hollow_marble.jobs.warm_scene import warm_scene

    built = tracer.build(warm_scene(), 64, 40)
    image = tracer.trace(built, FIRST_PASS, 0)
    develop.clean(image, *tracer.trace_layers(built))
    del built
    gc.collect()


def main() -> None:
    incoming = os.fdopen(os.dup(0), "rb")
    outgoing: Any = os.fdopen(os.dup(1), "wb")
    os.dup2(2, 1)  # whatever libraries print must not end up between the messages
    variant = sys.argv[1]
    if variant not in ("llvm_ad_rgb", "scalar_rgb"):
        raise SystemExit(f"unknown variant {variant}")
    Worker(incoming, outgoing).run(variant)  # type: ignore[arg-type]


if __name__ == "__main__":
    main()
