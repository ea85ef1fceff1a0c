-- Where parts sit is said in one record: `layout` of a design, `at` of what came out.
UPDATE designs SET body =
    CASE WHEN body ? 'motor_axle' OR body #> '{pack,place}' IS NOT NULL
    THEN (body - 'motor_axle') #- '{pack,place}' || jsonb_build_object('layout', jsonb_strip_nulls(jsonb_build_object(
        'motor', CASE WHEN body ? 'motor_axle' THEN jsonb_build_object('along', body -> 'motor_axle') END,
        'pack', CASE WHEN body #> '{pack,place}' IS NOT NULL THEN jsonb_build_object('along', body #> '{pack,place}') END)))
    ELSE body END;
UPDATE conversions SET donor = jsonb_set(donor, '{removed}', (
    SELECT coalesce(jsonb_agg(
        CASE WHEN item ? 'place' THEN (item - 'place') || jsonb_build_object('at', jsonb_build_object('along', item -> 'place')) ELSE item END
        ORDER BY place_in_list), '[]'::jsonb)
    FROM jsonb_array_elements(donor -> 'removed') WITH ORDINALITY AS all_items(item, place_in_list)))
WHERE jsonb_typeof(donor -> 'removed') = 'array';
