"""The HTTP routes."""
