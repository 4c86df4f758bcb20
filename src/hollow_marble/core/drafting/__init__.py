"""Drafting: perspective, construction boxes, circles and divisions in perspective, sweep curves, light on simple forms.

Page places are px, x to the right and y down. Space is millimetres, x = width, y = depth (the front looks to −y), z up.
Sources: Caprile & Torre 1990 (vanishing points and the orthocentre), Hartley & Zisserman, Multiple View Geometry
(homographies, images of circles), Farin, Curves and Surfaces for CAGD (conics, curvature combs), Abramowitz & Stegun 7.3 (Fresnel
integrals, by SciPy).
"""
