-- What opening a document asks of all its rows and pages, without reading any of these.
ALTER TABLE blocks ADD COLUMN columns INTEGER NOT NULL DEFAULT 1;  -- in how many it is set, side by side
UPDATE blocks SET columns = coalesce(json_extract(CAST(body AS TEXT), '$.columns'), 1);
CREATE INDEX blocks_in_columns ON blocks (document) WHERE columns > 1;
CREATE INDEX readings_of_pages ON pages (document, number, reading);
