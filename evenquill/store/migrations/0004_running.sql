-- Running heads and feet belong to parts of a document; until now there was one of each for the whole of it.
UPDATE documents
SET properties = CAST(json_set(
    json_remove(CAST(properties AS TEXT), '$.header', '$.footer', '$.first_page_plain', '$.first_number'),
    '$.running',
    json_array(json_object(
        'page', 1,
        'usual', json_object(
            'header', json(json_extract(CAST(properties AS TEXT), '$.header')),
            'footer', json(json_extract(CAST(properties AS TEXT), '$.footer'))
        ),
        'first', CASE WHEN json_extract(CAST(properties AS TEXT), '$.first_page_plain') THEN json('{}') END,
        'start', json_extract(CAST(properties AS TEXT), '$.first_number')
    ))
) AS BLOB)
WHERE properties IS NOT NULL
    AND (json_extract(CAST(properties AS TEXT), '$.header') IS NOT NULL
        OR json_extract(CAST(properties AS TEXT), '$.footer') IS NOT NULL);
