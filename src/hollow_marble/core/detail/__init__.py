"""Detail: lines that lie on a skin, and what is made along them, whatever the body they lie on is made of.

* `ground` is the surface a detail lies on: triangles, and the surface's own place at every share of each
* `facets` are triangles of a ground, split where a detail needs it; every corner keeps its place on the ground
* `skin_lines` are lines on a ground: thrown onto it, nearest to a line in space, cut by a plane, along a row, beside another line
* `beside` tells how far places are from such a line, along the skin, and on which side
* `profiles` are the cross-sections of what is made along a line
* `relief` raises and presses a ground by them: the mesh has an edge wherever the cross-section has one

Nothing here knows what a body is made of: it asks its ground. Lengths mm.
"""
