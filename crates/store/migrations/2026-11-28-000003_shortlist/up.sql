-- Vehicles that were looked at beside the donor.
ALTER TABLE conversions ADD COLUMN shortlist jsonb NOT NULL DEFAULT '{}'::jsonb;
