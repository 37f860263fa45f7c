-- Model answers open later than prompts; a sitting may have a limit of its own; items may be answered in writing.

ALTER TABLE version_prompts
  ADD COLUMN opens ENUM('atOnce','afterHandIn','afterReturn') NOT NULL DEFAULT 'atOnce';

ALTER TABLE sittings ADD COLUMN clock_began_at DATETIME(3) NULL AFTER began_at;

-- What a student writes; it changes until the hand-in and never after.
CREATE TABLE written_answers (
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  text MEDIUMTEXT NOT NULL,
  updated_at DATETIME(3) NOT NULL,
  PRIMARY KEY (sitting_id, item_id),
  CONSTRAINT written_answers_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id)
) DEFAULT CHARSET=utf8mb4;

-- Levels chosen on a rubric, as JSON: [{criterionId, level}].
ALTER TABLE marks ADD COLUMN choices LONGTEXT NULL CHECK (choices IS NULL OR JSON_VALID(choices));

-- The overall level of a sitting. A later one supersedes it; `in_force` is 1 for the one that holds, else NULL.
CREATE TABLE overall_levels (
  id UUID PRIMARY KEY,
  sitting_id UUID NOT NULL,
  level TINYINT UNSIGNED NULL,
  author_id UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  superseded_at DATETIME(3) NULL,
  in_force TINYINT AS (IF(superseded_at IS NULL, 1, NULL)) PERSISTENT,
  UNIQUE KEY overall_levels_in_force (sitting_id, in_force),
  CONSTRAINT overall_levels_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT overall_levels_author FOREIGN KEY (author_id) REFERENCES people (id)
);

-- Looking at a take that a student waits for goes before making copies that nobody waits for.
ALTER TABLE jobs ADD COLUMN urgent BOOLEAN NOT NULL DEFAULT FALSE, ADD KEY jobs_urgent (urgent, id);
