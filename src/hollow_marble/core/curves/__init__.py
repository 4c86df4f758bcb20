"""Curves that built surfaces follow: lines, arcs, circles, ellipses and splines, exact and editable.

* `segments` are the exact pieces of a curve: straight, conic, spline (Piegl & Tiller, The NURBS Book, 2nd ed. 1997)
* `splines` interpolates and evaluates
* `drawing` is what a designer draws: points, pieces between them, rounded corners, and the chains that come of it
* `holding` keeps what was said of a drawing (tangent, equal, 40 mm long …) while a point is dragged
* `chains` measures, offsets, mirrors and tests chains of pieces
* `planes` is where a flat curve stands

Nothing here knows of the B-rep kernel: a curve is dragged at the speed of NumPy. Lengths mm, angles radians.
"""
