"""Receives request bodies before Django sees them, so that a full disk gets a response with a sentence.

Waitress writes large bodies to a temporary file. If that fails it closes the connection, and the sender cannot tell a
full disk from a studio that is gone.
"""

import json
from typing import Any

from waitress.parser import HTTPRequestParser
from waitress.receiver import FixedStreamReceiver
from waitress.utilities import Error

from studio.storage.disk_space import FULL, NO_ROOM


class NoRoom(Error):  # type: ignore[misc]  # waitress says nothing of its types
    code = 507
    reason = "Insufficient Storage"

    def to_response(self, ident: str | None = None) -> tuple[str, list[tuple[str, str]], bytes]:
        body = json.dumps({"detail": NO_ROOM}, ensure_ascii=False).encode()
        return f"{self.code} {self.reason}", [("Content-Type", "application/json")], body


class Nowhere:
    """Discards the rest of a body that cannot be stored, so that the sender reads the response instead of a closed
    connection.
    """

    def append(self, data: bytes) -> None:
        pass

    def close(self) -> None:
        pass

    def __len__(self) -> int:
        return 0


class Request(HTTPRequestParser):  # type: ignore[misc]
    no_room = False

    def received(self, data: bytes) -> int:
        try:
            taken: int = super().received(data)
        except OSError as error:
            if error.errno not in FULL or self.body_rcv is None:
                raise
            self.no_room = True
            receiver: Any = self.body_rcv
            receiver.buf = Nowhere()
            if isinstance(receiver, FixedStreamReceiver):
                taken = super().received(data)
            else:
                # After an incomplete chunk, the length of what follows is unknown.
                taken, self.completed = len(data), True
        if self.no_room and self.completed:
            self.error = NoRoom("")
        return taken
