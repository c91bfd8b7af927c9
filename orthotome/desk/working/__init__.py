"""How the desk works: once for all who ask, apart from the server, within its budgets."""
