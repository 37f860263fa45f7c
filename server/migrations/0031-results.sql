-- What the marks of a class add up to: by which rule, and who else may see it.
ALTER TABLE classes
  -- What is missing counts as none of its points in an average.
  ADD COLUMN IF NOT EXISTS missing_counts BOOLEAN NOT NULL DEFAULT FALSE,
  -- How far a coordinator sees figures: not at all, those of the class as a whole, each student's.
  ADD COLUMN IF NOT EXISTS figures_for ENUM('nobody', 'class', 'students') NOT NULL DEFAULT 'nobody';

-- Terms of the school year are named days as those without lessons are.
ALTER TABLE holidays ADD COLUMN IF NOT EXISTS kind ENUM('holiday', 'term') NOT NULL DEFAULT 'holiday';
