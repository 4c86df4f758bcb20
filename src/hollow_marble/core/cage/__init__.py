"""The control mesh of a subdivision part and its smooth skin.

A cage is a mesh of points and faces with creases; its skin is the exact Catmull-Clark limit surface.

* `mesh` holds the cage, `topology` what follows from its connectivity
* `starts` makes cages, `edits` changes them, `mirror` keeps them symmetric
* `neighbourhood` reads the faces around a face, `masks` and `stencils` turn such a neighbourhood into weights
* `skin` applies the weights to points, `weld` joins the pieces, `measure` reads sizes

Sources: Catmull & Clark 1978 (CAD 10(6)); Halstead, Kass & DeRose 1993 (SIGGRAPH 93) for limit weights;
DeRose, Kass & Truong 1998 (SIGGRAPH 98) for semi-sharp creases; Biermann, Levin & Zorin 2000 (SIGGRAPH 2000)
for tangents along creases.
"""
