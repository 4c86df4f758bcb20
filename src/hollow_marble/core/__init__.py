"""The computation: NumPy arrays in, arrays out. No files, no clock, no interface."""
