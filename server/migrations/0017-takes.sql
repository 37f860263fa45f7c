-- The fate of a take: when all that came was here, and whether it was ended before all of it had come. What the server
-- knows of a recording that was announced after its time. Written answers know which wording they were changed from.

ALTER TABLE recordings
  ADD COLUMN IF NOT EXISTS arrived_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS ended_early_at DATETIME(3) NULL,
  ADD KEY IF NOT EXISTS recordings_state (state, created_at);

ALTER TABLE takes
  -- When the server first heard of it, where it was told that it began long before that; NULL where that agrees.
  ADD COLUMN IF NOT EXISTS claimed_at DATETIME(3) NULL;

ALTER TABLE written_answers ADD COLUMN IF NOT EXISTS revision INT UNSIGNED NOT NULL DEFAULT 1;

-- Model answers, and what others recorded, are opened by the student; after that nothing is taken back. Every receipt
-- that was given is kept.
ALTER TABLE sittings
  ADD COLUMN IF NOT EXISTS models_opened_at DATETIME(3) NULL,
  ADD COLUMN IF NOT EXISTS others_opened_at DATETIME(3) NULL,
  ADD KEY IF NOT EXISTS sittings_clock (handed_in_at, clock_began_at);
CREATE TABLE IF NOT EXISTS receipts (
  sitting_id UUID NOT NULL,
  handed_in_at DATETIME(3) NOT NULL,
  receipt LONGTEXT NOT NULL CHECK (JSON_VALID(receipt)),
  PRIMARY KEY (sitting_id, handed_in_at),
  CONSTRAINT receipts_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id)
) DEFAULT CHARSET=utf8mb4;

-- What of a limited assessment is unseen before its clock runs.
ALTER TABLE version_prompts
  MODIFY opens ENUM('atOnce','afterHandIn','afterReturn','withItems') NOT NULL DEFAULT 'atOnce';
