-- By how many quarter turns clockwise a page of a PDF was turned for its text to stand upright.
ALTER TABLE page_readings ADD COLUMN turn INTEGER NOT NULL DEFAULT 0;
