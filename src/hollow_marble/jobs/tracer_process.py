"""Start the render worker, choose its variant, bring it back when it dies."""

from __future__ import annotations

import contextlib
import ctypes.util
import os
import subprocess
import sys
import threading
from collections.abc import Callable
from pathlib import Path
from typing import Any

from hollow_marble.jobs.framing import receive, send
from hollow_marble.jobs.messages import Ready

FAST, PLAIN = "llvm_ad_rgb", "scalar_rgb"
OLDEST_LLVM = 16
_FOLDERS = ("/usr/lib/x86_64-linux-gnu", "/usr/lib/aarch64-linux-gnu", "/usr/lib", "/usr/local/lib")

NOTE_FAST = "Fast renderer"
NOTE_PLAIN = "Plain renderer: about three times slower. Install libllvm19 for the fast one."


def find_llvm() -> str | None:
    """Path of a libLLVM that the fast variant can use, newest first; older ones abort the process."""
    chosen = os.environ.get("DRJIT_LIBLLVM_PATH")
    if chosen and Path(chosen).exists():
        return chosen
    for version in range(22, OLDEST_LLVM - 1, -1):
        for folder in (*_FOLDERS, f"/usr/lib/llvm-{version}/lib"):
            for name in (f"libLLVM-{version}.so", f"libLLVM.so.{version}.1", f"libLLVM-{version}.so.1"):
                path = Path(folder, name)
                if path.exists():
                    return str(path)
        found = ctypes.util.find_library(f"LLVM-{version}")
        if found:
            return found
    return None


class TracerProcess:
    """One worker process at a time. `on_message` and `on_death` are called from a thread of their own."""

    def __init__(self, on_message: Callable[[Any], None], on_death: Callable[[], None]) -> None:
        self._on_message, self._on_death = on_message, on_death
        self._lock = threading.RLock()
        self._process: subprocess.Popen[bytes] | None = None
        self._ready = threading.Event()
        self._variant: str | None = None
        self._llvm = find_llvm()
        self._closed = False

    @property
    def variant(self) -> str | None:
        """The variant in use, None until a worker has been up."""
        return self._variant

    @property
    def note(self) -> str:
        """What the screen says about the renderer."""
        if self._variant is None:
            return "The renderer is warming up"
        return NOTE_FAST if self._variant == FAST else NOTE_PLAIN

    @property
    def pid(self) -> int | None:
        """Process id of the worker that is up."""
        return self._process.pid if self._process is not None and self._process.poll() is None else None

    def start(self) -> None:
        """Bring a worker up; returns at once."""
        with self._lock:
            if self._closed or self.pid is not None:
                return
            self._ready.clear()
            variant = self._variant or (FAST if self._llvm else PLAIN)
            environment = dict(os.environ)
            if self._llvm:
                environment["DRJIT_LIBLLVM_PATH"] = self._llvm
            self._process = subprocess.Popen(
                [sys.executable, "-m", "hollow_marble.jobs.render_worker", variant],
                stdin=subprocess.PIPE,
                stdout=subprocess.PIPE,
                env=environment,
            )
            threading.Thread(target=self._listen, args=(self._process, variant), daemon=True).start()

    def ask(self, message: Any) -> None:
        """Send a message once the worker is up, starting it where it is not."""
        self.start()
        self._ready.wait()
        with self._lock:
            process = self._process
            if process is None or process.stdin is None:
                return
            with contextlib.suppress(OSError):  # it died meanwhile; the listener reports that
                send(process.stdin, message)

    def close(self) -> None:
        """End the worker."""
        with self._lock:
            self._closed = True
            self._ready.set()
            process, self._process = self._process, None
        if process is not None:
            process.terminate()
            process.wait()

    def _listen(self, process: subprocess.Popen[bytes], variant: str) -> None:
        came_up = False
        while True:
            try:
                message = receive(process.stdout)  # type: ignore[arg-type]
            except (EOFError, OSError):
                break
            if isinstance(message, Ready):
                came_up = True
                self._variant = message.variant
                self._ready.set()
            self._on_message(message)
        process.wait()
        with self._lock:
            if self._closed:
                return
            if process is self._process:  # else a request has started the next one already
                self._process = None
            if not came_up and variant == FAST:
                self._llvm = None  # this libLLVM will not do; the plain variant needs none
            elif not came_up:
                self._closed = True
                self._ready.set()
        self._on_death()
