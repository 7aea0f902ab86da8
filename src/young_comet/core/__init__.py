"""The computation: no web, no database, no clock."""
