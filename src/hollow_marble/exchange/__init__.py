"""Open formats, one module each: bytes in and out."""
