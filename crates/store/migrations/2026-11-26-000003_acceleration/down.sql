-- Keys of stored briefs as they were.
UPDATE conversions SET brief = (replace(replace(replace(replace(brief::text, '"kind": "acceleration"', '"kind": "sprint"'), '"accelerations": ', '"sprints": '), '"acceleration": ', '"sprint": '), '"driving_style": ', '"manner": '))::jsonb;
