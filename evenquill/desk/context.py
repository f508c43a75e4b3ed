"""What the parts of the server share: the data folder, database connections, pools, events, passwords."""

from __future__ import annotations

import sqlite3
import threading
from pathlib import Path

from evenquill.core.reading.pages import PagePool
from evenquill.desk.drawing import StripDrawer
from evenquill.desk.editing import Editor
from evenquill.desk.events import Events
from evenquill.desk.interactive import InteractivePool
from evenquill.desk.look_alikes import OpenLookAlikes
from evenquill.desk.office_words import OfficeWordList
from evenquill.desk.open_documents import OpenDocuments
from evenquill.desk.outcomes import Outcomes, SettingPools
from evenquill.store import documents
from evenquill.store.connections import Connections
from evenquill.store.documents import DocumentRow
from evenquill.store.files import Files
from evenquill.store.reserve import Reserve

LEAST_FREE = 500_000_000
"""Bytes of disk; less is soon used up by one long scanned document."""


class AppContext:
    """One data folder and what works on it. The pools belong to whoever made them."""

    def __init__(
        self,
        data: Path,
        *,
        pages: PagePool,
        drawing: InteractivePool,
        region_reading: InteractivePool,
        setting: SettingPools,
    ) -> None:
        self.data = data.resolve()
        self.files = Files(self.data)
        self.reserve = Reserve(self.data)
        self.short_of_room = threading.Event()
        """Set when the disk was found to be full."""
        self.events = Events()
        self.passwords: dict[str, str] = {}
        """By document; in memory only."""
        self.pages = pages
        self.region_reading = region_reading
        self.strips = StripDrawer(drawing)
        self.outcomes = Outcomes(setting, self.data)
        self.connections = Connections(self.data)
        self.connections.get()  # the schema is brought up to date before anybody else looks
        self.office_words = OfficeWordList(self.connections)
        self.open_documents = OpenDocuments(self.connections, self.office_words)
        self.editor = Editor(self.connections, self.open_documents, self.events)
        self.look_alikes = OpenLookAlikes(self.connections, self.open_documents)

    @property
    def store(self) -> sqlite3.Connection:
        """This thread's connection."""
        return self.connections.get()

    def make_room(self) -> bool:
        """Frees what was held back on a full disk, and has what was deleted taken off it; returns whether there is room again."""
        freed = self.reserve.give_up()
        self.short_of_room.set()
        return freed

    def notify_changed(self, document: str) -> DocumentRow:
        """Tells everybody that a document has changed, and returns it as it is now."""
        self.events.publish(document)
        return documents.get(self.store, document)
