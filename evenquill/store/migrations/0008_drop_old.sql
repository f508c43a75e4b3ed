-- The tables that 0006 made anew take the places of the old ones, whose content 0007 has brought over.
DROP TABLE pages;
ALTER TABLE pages_new RENAME TO pages;
DROP TABLE operations;
DROP TABLE jobs;
ALTER TABLE jobs_new RENAME TO jobs;
CREATE INDEX jobs_by_state ON jobs (state, priority, number);
CREATE INDEX jobs_by_document ON jobs (document, state);
DROP TABLE readings_again;
CREATE INDEX pages_by_reading ON pages (reading);
ALTER TABLE documents ADD COLUMN block_count INTEGER NOT NULL DEFAULT 0;
UPDATE documents SET block_count = (SELECT count(*) FROM blocks WHERE document = documents.id);

-- In the order of the document: rows that are shown together lie together, however long it is.
CREATE TABLE blocks_new (
    document TEXT NOT NULL REFERENCES documents (id) ON DELETE CASCADE,
    id TEXT NOT NULL,
    position INTEGER NOT NULL,            -- with room between them, so that an insertion moves no other row
    page INTEGER NOT NULL,                -- the page of the source that it begins on, 0 for none
    body BLOB NOT NULL,                   -- Block as JSON
    UNIQUE (document, id)
);
INSERT INTO blocks_new (document, id, position, page, body)
SELECT document, id, position, page, body FROM blocks ORDER BY document, position;
DROP TABLE blocks;
ALTER TABLE blocks_new RENAME TO blocks;
CREATE INDEX blocks_in_order ON blocks (document, position, page);
