"""Starting the application: data folder, reading room, server."""

from __future__ import annotations

import logging
import signal
from pathlib import Path

import waitress

from evenquill.core.reading.pages import PagePool
from evenquill.desk.app import MOST_BYTES, create_app
from evenquill.desk.demo import place_demo_documents
from evenquill.desk.drawing import DrawingPool
from evenquill.desk.house import House
from evenquill.desk.intake import purge_deleted
from evenquill.desk.reading import ReadingRoom

THREADS = 24
"""Each open window holds one for its events."""


def serve(data: Path, *, host: str, port: int, workers: int = 0, demo: bool = False) -> None:
    """Serves until it is told to stop. With ``demo``, an empty in-tray is given the demo documents first."""
    logging.basicConfig(level=logging.WARNING, format="%(asctime)s %(name)s %(message)s")
    signal.signal(signal.SIGTERM, _interrupt)
    with PagePool(workers) as pages, DrawingPool() as drawing:
        house = House(data, pages=pages, drawing=drawing)
        room = ReadingRoom(house)
        try:
            purge_deleted(house)
            room.start()
            if demo:
                place_demo_documents(house, room)
            print(f"Even Quill is at http://{host}:{port}/  (data in {house.data})", flush=True)
            waitress.serve(
                create_app(house, room),
                host=host,
                port=port,
                threads=THREADS,
                ident=None,
                max_request_body_size=MOST_BYTES,
            )
        except KeyboardInterrupt:
            pass
        finally:
            room.stop()


def _interrupt(number: int, frame: object) -> None:
    raise KeyboardInterrupt
