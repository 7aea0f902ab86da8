"""Young Comet: logo reveals, lower thirds and kinetic titles, animated and rendered."""

__version__ = "0.1.0"
