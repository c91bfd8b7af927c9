"""From what is seen to its cause, one question at a time.

``causes`` and ``complaints`` and ``questions`` are what is known, as data; ``diagnosis`` is how it is used.
"""
