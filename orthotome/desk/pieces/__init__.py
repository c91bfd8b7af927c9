"""The next piece of a trial, laid on its plate."""
