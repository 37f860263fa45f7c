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
