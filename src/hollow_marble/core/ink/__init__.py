"""Strokes to pixels.

* `path` turns what the pen reported into evenly placed dabs
* `stamp` turns dabs into coverage and coverage into ink on a layer
* `compose` lays layers on paper
* `outline` turns a stroke into a filled outline for line formats

The browser draws wet ink by the same rules (`frontend/src/paper/wetInk.ts`); a test holds the two together.
"""
