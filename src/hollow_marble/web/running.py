"""The running application, and what a request says of whoever makes it."""

from __future__ import annotations

from flask import current_app, request

from hollow_marble.application.application import Application
from hollow_marble.application.editing import Hand
from hollow_marble.core.errors import HollowMarbleError
from hollow_marble.demo.bringing import DemoBringer
from hollow_marble.store.ledger import NOW, Now
from hollow_marble.web.events import Broker


class Running:
    """An application and the news of it."""

    def __init__(self, application: Application, news: Broker) -> None:
        self.application, self.news = application, news
        self.demo = DemoBringer(application)

    def close(self) -> None:
        """End the streams, the workers, and what is being written."""
        self.news.close()
        self.demo.close()
        self.application.close()


def running() -> Running:
    """What is running."""
    found: Running = current_app.extensions["hollow_marble"]
    return found


def application() -> Application:
    """The running application."""
    return running().application


def hand() -> Hand:
    """
    Whose request it is: `X-Tab` names the browser tab, `X-Seen` the head of the document that is shown there (0: its start),
    `X-Request` the request itself: where it comes a second time, because an answer was lost, it is answered and not carried out.
    """
    seen: int | Now | None = NOW
    given = request.headers.get("X-Seen", "")
    if given:
        if not given.isdecimal() or len(given) > 15:
            raise HollowMarbleError("X-Seen must name a line of the ledger by its number.")
        seen = int(given) or None
    named = request.headers.get("X-Request", "")
    if len(named) > 64:
        raise HollowMarbleError("X-Request must be a name of at most 64 letters.")
    return Hand(request.headers.get("X-Tab", ""), seen, named)
