"""What the records know of a complaint already."""
