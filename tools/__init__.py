"""What drives Orthotome from outside: pictures, figures, and the browser the tests use."""
