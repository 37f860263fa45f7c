-- What was drawn while an answer was spoken: strokes with their times, beside the take.
CREATE TABLE IF NOT EXISTS take_sheets (
  take_id UUID NOT NULL PRIMARY KEY,
  ink MEDIUMTEXT NOT NULL,
  kept_at DATETIME(3) NOT NULL,
  FOREIGN KEY (take_id) REFERENCES takes (id) ON DELETE CASCADE
);
