ALTER TABLE conversions DROP COLUMN shortlist;
