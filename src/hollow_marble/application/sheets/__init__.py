"""What can be done with a sheet: one module a family of work, each with what may be asked for and what then happens."""
