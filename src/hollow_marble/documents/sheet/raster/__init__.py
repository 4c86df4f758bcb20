"""From a sheet's state to pixels."""

from hollow_marble.documents.sheet.raster.page import SheetRaster

__all__ = ["SheetRaster"]
