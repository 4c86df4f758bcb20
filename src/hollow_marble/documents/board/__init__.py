"""Boards: takes side by side, comments pinned to them, and what was decided."""
