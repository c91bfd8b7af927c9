"""A table's programs: what is found in them, what a run costs, how their holes come out, and the other sets that could cut them."""
