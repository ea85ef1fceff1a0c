DROP TABLE readiness;
ALTER TABLE library_parts DROP COLUMN format;
ALTER TABLE designs DROP COLUMN format;
ALTER TABLE conversions DROP COLUMN format;
