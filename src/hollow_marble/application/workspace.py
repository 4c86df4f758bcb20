"""What everything done in a project shares: the library, the pixels of sheets, bodies that were worked out, news."""

from __future__ import annotations

import hashlib
import importlib.metadata
from collections.abc import Callable
from contextlib import ExitStack
from pathlib import Path
from typing import Any

from cachetools import LRUCache

from hollow_marble.core import curves, solids
from hollow_marble.core.locks import CACHE, RankedLock
from hollow_marble.core.shelf import Shelf
from hollow_marble.core.solids.solid import Kernel, here
from hollow_marble.documents.edit import LoadAsset
from hollow_marble.documents.form.evaluation import SHELF_BYTES, FormEvaluator
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.documents.sheet.raster.ink import drawing_rules
from hollow_marble.store.assets import load_asset
from hollow_marble.store.cache import FolderCache
from hollow_marble.store.library import Library, Project

Publish = Callable[[str, str, dict[str, Any]], None]
"""Called with the project id, the kind of news and its content."""

RASTER_BYTES = 700_000_000


def building_rules() -> str:
    """A hash of the kernel's version and of the code that builds with it: what others built is not to be taken from a cache."""
    code = [importlib.metadata.version("cadquery-ocp-novtk").encode()]
    for folder in (Path(solids.__file__).parent, Path(curves.__file__).parent):
        code += [path.read_bytes() for path in sorted(folder.rglob("*.py"))]
    return hashlib.sha256(b"|".join(code)).hexdigest()


def nobody(_project: str, _kind: str, _content: dict[str, Any]) -> None:
    """News that nobody hears."""


class Workspace:
    """One for a data folder. What it keeps is bounded by bytes; the least recently used goes first."""

    def __init__(self, data: Path, publish: Publish = nobody) -> None:
        self.data = data
        self.library = Library(data)
        self.publish = publish
        self.shelf = Shelf(SHELF_BYTES)
        self.kernel_of: Callable[[str], Kernel] = lambda _owner: here
        self.drawn = FolderCache(data / "cache" / "ink", drawing_rules())
        self.built = FolderCache(data / "cache" / "solids", building_rules())
        self._lock = RankedLock("workspace", CACHE)
        self._rasters: LRUCache[tuple[Project, str], SheetRaster] = LRUCache(RASTER_BYTES, getsizeof=_pixels_of)

    def project(self, ident: str) -> Project:
        """An open project by its id."""
        return self.library.get(ident)

    def loader(self, project: Project) -> LoadAsset:
        """Reads assets of a project by SHA-256."""
        return lambda sha: load_asset(project.database, sha)[0]

    def evaluator(self, project: Project) -> FormEvaluator:
        """Works out the forms of a project. Bodies are kept under hashes of content, so that all projects share a shelf."""
        return FormEvaluator(self.loader(project), self.shelf, self.kernel_of(project.entry.id))

    def raster(self, project: Project, sheet: str) -> SheetRaster:
        """The pixels of a sheet."""
        key = (project, sheet)
        with self._lock:
            found = self._rasters.get(key)
            if found is None:
                found = SheetRaster(self.loader(project), self.drawn)
            else:
                del self._rasters[key]  # weighed anew: it may hold more by now
            if _pixels_of(found) <= self._rasters.maxsize:
                self._rasters[key] = found
            return found

    def pixels_of(self, project: Project, ident: str, sheet: Sheet) -> Held:
        """The pixels of a sheet at a state, held there while they are read."""
        return Held(self.raster(project, ident), sheet)

    def close(self) -> None:
        """Finish what is being written, and let go of everything."""
        self.drawn.close()
        self.built.close()
        self.library.close()


class Held:
    """`with` it, the pixels of a sheet are those of one state, whatever others ask for meanwhile."""

    def __init__(self, raster: SheetRaster, sheet: Sheet) -> None:
        self._raster, self._sheet = raster, sheet
        self._stack = ExitStack()

    def __enter__(self) -> SheetRaster:
        self._stack.enter_context(self._raster.held(self._sheet))
        return self._raster

    def __exit__(self, *trouble: object) -> None:
        self._stack.close()


def _pixels_of(raster: SheetRaster) -> int:
    return raster.weight
