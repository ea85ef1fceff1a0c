//! Tables as Diesel sees them.
#![allow(missing_docs)]

diesel::table! {
    conversions (id) {
        id -> Uuid,
        workspace_id -> Uuid,
        name -> Text,
        notes -> Text,
        units -> Text,
        brief -> Jsonb,
        donor -> Jsonb,
        shortlist -> Jsonb,
        version -> Int4,
        format -> Int4,
        created_at -> Timestamptz,
        updated_at -> Timestamptz,
    }
}

diesel::table! {
    designs (id) {
        id -> Uuid,
        conversion_id -> Uuid,
        label -> Text,
        body -> Jsonb,
        version -> Int4,
        format -> Int4,
        created_at -> Timestamptz,
        updated_at -> Timestamptz,
    }
}

diesel::table! {
    library_parts (id) {
        id -> Uuid,
        workspace_id -> Uuid,
        kind -> Text,
        name -> Text,
        record -> Jsonb,
        retired -> Bool,
        version -> Int4,
        format -> Int4,
        created_at -> Timestamptz,
        updated_at -> Timestamptz,
    }
}

diesel::table! {
    searches (conversion_id, name) {
        conversion_id -> Uuid,
        name -> Text,
        asked -> Text,
        answer -> Jsonb,
        relaxations -> Nullable<Jsonb>,
        format -> Int4,
        found_at -> Timestamptz,
    }
}

diesel::table! {
    photographs (id) {
        id -> Uuid,
        conversion_id -> Uuid,
        caption -> Text,
        about -> Text,
        width -> Int4,
        height -> Int4,
        picture -> Bytea,
        thumbnail -> Bytea,
        added_at -> Timestamptz,
    }
}

diesel::joinable!(designs -> conversions (conversion_id));
diesel::joinable!(photographs -> conversions (conversion_id));
diesel::joinable!(searches -> conversions (conversion_id));
diesel::allow_tables_to_appear_in_same_query!(conversions, designs, photographs, searches);
