"""Orthotome's tests. No test depends on how fast the machine is: property tests have no deadline.

What the server writes into its journal is kept out of their output.
"""

import logging

from hypothesis import settings

settings.register_profile("orthotome", deadline=None)
settings.load_profile("orthotome")

logging.getLogger("orthotome").addHandler(logging.NullHandler())
logging.getLogger("orthotome").propagate = False
