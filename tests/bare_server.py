"""The server without a renderer and without warming up, up again in a moment each time it is killed.

Told a folder and a port; says the process id of each server on a line of its own. Importing is done once.
"""

from __future__ import annotations

import os
import signal
import sys
from pathlib import Path
from typing import Any

import waitress

from hollow_marble.web.app import create_app


def main(data: Path, port: int) -> None:
    child = 0

    def stop(*_: Any) -> None:
        os.kill(child, signal.SIGKILL)
        sys.exit(0)

    signal.signal(signal.SIGTERM, stop)
    while True:
        child = os.fork()
        if not child:
            signal.signal(signal.SIGTERM, signal.SIG_DFL)
            waitress.serve(create_app(data, work=False), host="127.0.0.1", port=port, threads=16)
            os._exit(0)
        print(child, flush=True)
        if not os.WIFSIGNALED(os.waitpid(child, 0)[1]):
            sys.exit("The server ended without being killed.")


if __name__ == "__main__":
    main(Path(sys.argv[1]), int(sys.argv[2]))
