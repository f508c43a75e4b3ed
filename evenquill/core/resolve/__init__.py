"""What every writer and every view needs to know of a document, worked out once: numbering, notes, captions, contents, links, sections."""
