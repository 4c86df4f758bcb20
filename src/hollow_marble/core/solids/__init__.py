"""Built forms: surfaces and solids that follow curves, on a boundary-representation kernel.

* `solid` is a solid as everybody else knows it: bytes, names of its faces, its measures; and what is asked of the kernel
* `kernel` does it, and is the only place that knows the kernel; it is imported where it is used, and belongs into a process that may die
* `patches` makes exact B-spline faces of a cage's limit surface, in NumPy

A face is named by how it came to be: the step and the piece of a curve, or the face, that it was made of. An edge is named by the faces
it lies between. So a rounding stays on its edge when the profile below it changes.
"""
