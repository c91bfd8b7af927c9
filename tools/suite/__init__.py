"""The suite as ``./run test`` runs it: every check and every test, several at once, longest first."""
