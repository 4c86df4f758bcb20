"""Checks of a surface: how it curves and whether it is sound.

* `curvature`: first and second fundamental forms (do Carmo, Differential Geometry of Curves and Surfaces, 1976, ch. 3)
* `soundness`: closed, manifold, turning one way, without slivers and without passing through itself
"""
