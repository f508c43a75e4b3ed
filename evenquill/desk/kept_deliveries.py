"""What is delivered is kept, byte for byte, and written down."""

from __future__ import annotations

from evenquill.core.document_state import Event
from evenquill.desk.context import AppContext
from evenquill.desk.tray_routes import new_id
from evenquill.store import deliveries, documents
from evenquill.store.database import transaction
from evenquill.store.deliveries import Delivery


def keep_delivery(
    context: AppContext, document: str, format: str, file_name: str, revision: int, data: bytes, *, by: str, whole: bool
) -> Delivery:
    """Keeps a file that was written from a document at a revision; ``whole`` if all of the document is in it, which is delivered then."""
    delivery = new_id()
    path = context.files.delivery(delivery, format)
    try:
        path.write_bytes(data)
        with transaction(context.store):
            made = deliveries.add(
                context.store,
                id=delivery,
                document=document,
                format=format,
                file_name=file_name,
                revision=revision,
                size=path.stat().st_size,
                actor=by,
            )
            if whole:
                documents.transition(context.store, document, Event.DELIVER)
    except BaseException:
        path.unlink(missing_ok=True)
        raise
    context.events.publish(document)
    return made
