"""The demo's five sheets: ideas, a construction in perspective, clean lines, a rendering, a page to present."""
