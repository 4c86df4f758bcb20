"""A form's report: numbers and pictures on one page, and the same as data."""
