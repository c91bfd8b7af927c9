"""The trade itself: pure computation on numbers with units in their names.

Nothing in here reads a file, a clock, a database or a socket. It imports numpy, scipy and itself.

Conventions (the whole program uses these):

* Machine frame: X to the right, Y away from the operator, Z up. Angles in the plane run
  counter-clockwise from +X, in degrees.
* ``heading_deg`` is the direction of torch travel; ``side`` says on which side of it, seen along
  the travel, the kept metal lies.
* ``bevel_deg`` is positive where the bottom of the kept part sticks out beyond its top, negative
  where it is undercut, zero where it is square.
"""
