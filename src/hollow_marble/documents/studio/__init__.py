"""Studios: the set, lamps, camera and finishes around a form, and the shots made of them."""
