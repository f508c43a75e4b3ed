-- Typefaces that the office wants to stand for others in every document.
CREATE TABLE stand_ins (
    name TEXT PRIMARY KEY COLLATE NOCASE,
    stands TEXT NOT NULL
);
