-- What a teacher has put away is found again; what was thrown away, for thirty days.
ALTER TABLE assessments
  ADD COLUMN IF NOT EXISTS away ENUM('kept', 'thrown') NULL,
  ADD COLUMN IF NOT EXISTS away_at DATETIME(3) NULL;
ALTER TABLE assessments ADD KEY IF NOT EXISTS assessments_thrown (away, away_at);
ALTER TABLE classes ADD COLUMN IF NOT EXISTS put_away_at DATETIME(3) NULL;
