"""What is judged of a trial, and what is to be dialled for it now."""
