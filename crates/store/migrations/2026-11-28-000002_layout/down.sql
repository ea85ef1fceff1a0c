-- What only the layout can say, places across and above and further boxes, is lost.
UPDATE designs SET body = (CASE WHEN jsonb_typeof(body -> 'pack') = 'object'
    THEN jsonb_set(body, '{pack}', (body -> 'pack') || jsonb_strip_nulls(jsonb_build_object('place', body #> '{layout,pack,along}')))
    ELSE body END) - 'layout' || jsonb_strip_nulls(jsonb_build_object('motor_axle', body #> '{layout,motor,along}'))
WHERE body ? 'layout';
UPDATE conversions SET donor = jsonb_set(donor, '{removed}', (
    SELECT coalesce(jsonb_agg((item - 'at') || jsonb_strip_nulls(jsonb_build_object('place', item #> '{at,along}')) ORDER BY place_in_list), '[]'::jsonb)
    FROM jsonb_array_elements(donor -> 'removed') WITH ORDINALITY AS all_items(item, place_in_list)))
WHERE jsonb_typeof(donor -> 'removed') = 'array';
