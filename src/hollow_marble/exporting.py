"""A project's form or sheet as bytes of an open format."""

from __future__ import annotations

from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.documents.form.evaluation import FormEvaluator
from hollow_marble.documents.form.model import Form
from hollow_marble.documents.sheet.model import Sheet
from hollow_marble.documents.sheet.raster import SheetRaster
from hollow_marble.exchange.forms import export
from hollow_marble.exchange.pictures import png
from hollow_marble.exchange.svg import sheet_svg
from hollow_marble.store.assets import load_asset
from hollow_marble.store.library import Project


def export_project(project: Project, kind: str, name: str | None) -> bytes:
    """Form as glb, stl, ply or obj (`name` chooses a part), or sheet as png or svg (`name` chooses a sheet)."""

    def load(sha: str) -> bytes:
        return load_asset(project.database, sha)[0]

    if kind in ("png", "svg"):
        rows = project.ledger.rows("sheet")
        row = next((r for r in rows if name is None or r.name.casefold() == name.casefold()), None)
        if row is None:
            raise HollowMarbleError(f"There is no sheet named {name}. Sheets here: {', '.join(r.name for r in rows)}.")
        sheet = project.ledger.state(row.id)
        assert isinstance(sheet, Sheet)
        if kind == "svg":
            return sheet_svg(sheet, load).encode()
        raster = SheetRaster(load)
        raster.update(sheet)
        return png(raster.pixels((0, 0, sheet.width, sheet.height))[..., :3])
    form = project.ledger.state(project.ledger.rows("form")[0].id)
    assert isinstance(form, Form)
    part = next((p for p in form.parts if name is not None and p.name.casefold() == name.casefold()), None)
    if name is not None and part is None:
        raise HollowMarbleError(f"There is no part named {name}. Parts here: {', '.join(p.name for p in form.parts)}.")
    return export(form, FormEvaluator(load), kind, part.id if part else None)
