"""What lies in a view, carried along when the view is moved on the page."""

from __future__ import annotations

from hollow_marble.documents.sheet.model import Note, Place, Rect

ENDS = ("at", "to", "start", "end")


def inside(rect: Rect, place: Place) -> bool:
    """Whether a place lies in a rectangle."""
    return rect[0] <= place[0] < rect[2] and rect[1] <= place[1] < rect[3]


def moved_note(note: Note, rect: Rect, by: tuple[float, float]) -> Note:
    """A note moved with a view where the middle of its ends lies in it."""
    ends = {name: place for name in ENDS if (place := getattr(note, name, None)) is not None}
    middle = sum(x for x, _ in ends.values()) / len(ends), sum(y for _, y in ends.values()) / len(ends)
    if not inside(rect, middle):
        return note
    return note.model_copy(update={name: (x + by[0], y + by[1]) for name, (x, y) in ends.items()})
