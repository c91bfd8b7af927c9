"""Recipes as they are watched."""
