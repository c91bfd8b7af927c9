"""The web interface: thin routers over the store, problem+json errors, and the built front end."""
