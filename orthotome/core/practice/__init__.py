"""Learning on what is made up: faults to find, and a simulated table to cut square on."""
