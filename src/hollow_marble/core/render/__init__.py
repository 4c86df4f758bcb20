"""From a described scene to a picture.

* `scene` describes what is to be photographed, in arrays
* `tracer` hands it to the light transport library, pass by pass
* `develop` adds passes up, estimates their noise and cleans the picture
"""
