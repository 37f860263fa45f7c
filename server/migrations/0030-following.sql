-- A planned release follows its assessment until it opens, or is held as it is. What was planned before stays as it was frozen.
ALTER TABLE releases ADD COLUMN IF NOT EXISTS follows BOOLEAN NOT NULL DEFAULT 0;
ALTER TABLE releases ADD KEY IF NOT EXISTS releases_following (assessment_id, follows);
ALTER TABLE releases ADD KEY IF NOT EXISTS releases_series (series_id);
