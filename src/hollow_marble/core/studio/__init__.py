"""What a photographer reckons with.

* `lamps`: where lamps stand, how bright and how warm they are, what that means for shadow and contrast
* `camera`: field of view and pose
* `sweep`: the seamless backdrop
* `colour`: sRGB, warmth, and the display transform
"""
