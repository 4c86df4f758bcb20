"""Alder Row's Linnet, built through documents as a designer would."""
