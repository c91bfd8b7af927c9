"""Stand-ins for the shop's devices: they know a hidden truth and answer like the real thing."""
