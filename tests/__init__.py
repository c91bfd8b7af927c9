"""The tests. What the server writes into its journal is kept out of their output."""

import logging

logging.getLogger("orthotome").addHandler(logging.NullHandler())
logging.getLogger("orthotome").propagate = False
