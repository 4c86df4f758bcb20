"""Sheets: pages of ink layers and pictures with framed views."""
