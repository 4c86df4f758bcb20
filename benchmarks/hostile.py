"""What comes from outside: damaged and crafted files over every import, and requests made at random from the OpenAPI document."""

from __future__ import annotations

import importlib
import json
import pickle
import subprocess
import sys
import tempfile
from collections.abc import Iterator
from pathlib import Path
from typing import Any

from benchmarks.measure import Result, within

DAMAGED = 10_000
CRAFTED_TIMES = 4
REQUESTS = 5_000

# in a process of its own, so that its greatest size is that of the reading alone
FILES = """
import json, pickle, random, sys, time
from pathlib import Path
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.exchange.meshes import read_triangles
from tests.hostile import READERS, damaged
for whole, read in READERS.values():
    read(whole)
crafted = pickle.load(open(sys.argv[4], "rb"))
def megabytes(name):
    line = next(line for line in Path("/proc/self/status").read_text().splitlines() if line.startswith(name))
    return int(line.split()[1]) / 1024
Path("/proc/self/clear_refs").write_text("5")  # the greatest size is counted anew: importing took more for a while
rest = megabytes("VmRSS")
chance = random.Random(int(sys.argv[3]))
slowest, wrong, refused, count = 0.0, [], 0, 0
def tried(read, data, what):
    global slowest, refused, count
    began = time.perf_counter()
    try:
        read(data)
    except HollowMarbleError:
        refused += 1
    except Exception as error:
        wrong.append(f"{what}: {type(error).__name__}")
    slowest, count = max(slowest, time.perf_counter() - began), count + 1
if sys.argv[1] == "damaged":
    for number in range(int(sys.argv[2])):
        what, (whole, read) = list(READERS.items())[number % len(READERS)]
        tried(read, damaged(whole, chance), what)
else:
    for _ in range(int(sys.argv[2])):
        for what, kind, data in crafted:
            for cut in (0, chance.randint(1, 3)):
                tried(READERS[kind][1], data[: len(data) - cut], what)
print(json.dumps({"count": count, "refused": refused, "wrong": wrong, "slowest": slowest, "megabytes": megabytes("VmHWM") - rest}))
"""


def hostile_files() -> Iterator[Result]:
    """Files of every kind that can be brought in, damaged and crafted: none breaks the program, takes 5 s or 400 MB above rest."""
    from tests.hostile import CRAFTED

    archives: Any = importlib.import_module("tests.exchange.test_openraster")
    crafted = [(what, kind, data) for what, (kind, data) in CRAFTED.items()]
    crafted += [(what, "ora", make()) for what, (make, _) in archives.HOSTILE.items()]
    crafted += [(f"{wide} px", "png", archives.packed_png(wide, wide)) for wide in (8_900, 12_001)]
    for how, count in (("damaged", DAMAGED), ("crafted", CRAFTED_TIMES)):
        with tempfile.NamedTemporaryFile() as content:
            content.write(pickle.dumps(crafted))
            content.flush()
            command = [sys.executable, "-c", FILES, how, str(count), "9", content.name]
            done = subprocess.run(command, capture_output=True, text=True, check=True, cwd=Path(__file__).parents[1])
        found = json.loads(done.stdout.splitlines()[-1])
        name = f"{found['count']:,} {how} files, {found['refused']:,} refused"
        yield within(f"{name}: errors of the program", "errors", float(len(found["wrong"])), 0.0)
        yield within(f"{name}: the slowest", "s", found["slowest"], 5.0)
        yield within(f"{name}: memory above rest", "MB", found["megabytes"], 400.0)


def hostile_requests() -> Iterator[Result]:
    """Requests made from the OpenAPI document (Schemathesis): no answer of 500 or above, none over 5 s."""
    from tests.conftest import running
    from tests.fuzzed import fuzzed

    with tempfile.TemporaryDirectory() as folder, running(Path(folder)) as server:
        told = fuzzed(server.url, REQUESTS)
    yield within(f"{told.count:,} requests at random: answers of 500 or above", "answers", float(len(told.broken)), 0.0)
    yield within(f"{told.count:,} requests at random: the slowest", "s", told.slowest, 5.0)
    for line in told.broken[:10]:
        print(line, file=sys.stderr)
