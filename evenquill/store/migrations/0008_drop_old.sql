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
DROP INDEX blocks_in_columns;
ALTER TABLE blocks DROP COLUMN columns;
