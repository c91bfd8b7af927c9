"""What is logged of a piece, as files and as it is kept."""
