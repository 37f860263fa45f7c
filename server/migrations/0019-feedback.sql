-- One name for one thing: what a teacher gives is feedback, and a student may be asked to record again.
ALTER TABLE sittings
  RENAME COLUMN IF EXISTS returned_at TO feedback_at,
  RENAME COLUMN IF EXISTS returned_by TO feedback_by,
  RENAME COLUMN IF EXISTS given_back_at TO asked_again_at,
  RENAME INDEX IF EXISTS sittings_not_returned TO sittings_without_feedback;

ALTER TABLE decisions
  MODIFY kind ENUM('giveBack', 'setAside', 'acceptLate', 'excuse', 'another', 'showNotes', 'askAgain') NOT NULL;
UPDATE decisions SET kind = 'askAgain' WHERE kind = 'giveBack';
ALTER TABLE decisions
  MODIFY kind ENUM('setAside', 'acceptLate', 'excuse', 'another', 'showNotes', 'askAgain') NOT NULL;

UPDATE jobs SET kind = 'tellFeedback' WHERE kind = 'tellReturned';
