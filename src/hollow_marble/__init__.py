"""Hollow Marble: from a blank page to a decision, for people who design products."""

__version__ = "0.1.0"
