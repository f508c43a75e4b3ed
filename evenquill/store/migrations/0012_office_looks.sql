-- Looks of documents that the office keeps, each a set of styles under a name.
CREATE TABLE office_looks (
    name TEXT PRIMARY KEY COLLATE NOCASE,
    styles TEXT NOT NULL
);
