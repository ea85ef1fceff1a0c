-- Keys of stored briefs in the words of the field. Quotes within texts are escaped, so that no text is touched.
UPDATE conversions SET brief = (replace(replace(replace(replace(brief::text, '"kind": "sprint"', '"kind": "acceleration"'), '"sprints": ', '"accelerations": '), '"sprint": ', '"acceleration": '), '"manner": ', '"driving_style": '))::jsonb;
