"""Bodies: what a part is once its recipe is worked out, whatever it is made of.

* `body` says what every body answers, and holds the one mesh format all of them are drawn, measured and photographed by
* `cage_body` is a cage with its limit surface
* `still_body` is a mesh that is shown, measured and placed, but not shaped
* `solid_body` is a solid of the B-rep kernel, and a curve that forms are built of
* `detailed_body` is any of them with details on its skin

Nothing outside a representation asks which one it is. Another one (a distance field, a hand) is one
more module here: see "Adding a body" in docs/architecture.md.
"""
