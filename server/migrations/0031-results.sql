-- What the marks of a class add up to: by which rule, and who else may see it.
ALTER TABLE classes
  -- What is missing counts as none of its points in an average.
  ADD COLUMN IF NOT EXISTS missing_counts BOOLEAN NOT NULL DEFAULT FALSE,
  -- How far a coordinator sees figures: not at all, those of the class as a whole, each student's.
  ADD COLUMN IF NOT EXISTS figures_for ENUM('nobody', 'class', 'students') NOT NULL DEFAULT 'nobody';

-- Terms of the school year are named days as those without lessons are.
ALTER TABLE holidays ADD COLUMN IF NOT EXISTS kind ENUM('holiday', 'term') NOT NULL DEFAULT 'holiday';

-- What the finished marks of a sitting add up to, so that a year of a class is read and not added up each time.
ALTER TABLE sittings
  ADD COLUMN IF NOT EXISTS points_hundredths INT UNSIGNED NULL,
  ADD COLUMN IF NOT EXISTS done_items SMALLINT UNSIGNED NOT NULL DEFAULT 0,
  ADD COLUMN IF NOT EXISTS level TINYINT UNSIGNED NULL;
UPDATE sittings s JOIN (
    SELECT sitting_id, SUM(points_hundredths) AS points, SUM(COALESCE(points_hundredths, 0) > 0) AS done FROM marks
    WHERE in_force = 1 AND finished_at IS NOT NULL GROUP BY sitting_id
  ) k ON k.sitting_id = s.id SET s.points_hundredths = k.points, s.done_items = k.done;
UPDATE sittings s JOIN overall_levels l ON l.sitting_id = s.id AND l.in_force = 1 SET s.level = l.level;
