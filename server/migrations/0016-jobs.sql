-- Jobs that matter are never given up silently: which thing a job is about and whose it is, who holds it, how often it
-- failed by its own fault, and since when it is given up.

ALTER TABLE jobs
  ADD COLUMN IF NOT EXISTS subject_id UUID NULL AFTER payload,
  ADD COLUMN IF NOT EXISTS owner_id UUID NULL AFTER subject_id,
  ADD COLUMN IF NOT EXISTS holder VARCHAR(120) NULL AFTER locked_until,
  ADD COLUMN IF NOT EXISTS failures INT UNSIGNED NOT NULL DEFAULT 0 AFTER attempts,
  ADD COLUMN IF NOT EXISTS failed_at DATETIME(3) NULL,
  ADD KEY IF NOT EXISTS jobs_subject (kind, subject_id),
  ADD KEY IF NOT EXISTS jobs_owner (owner_id, state);
UPDATE jobs SET subject_id = COALESCE(JSON_VALUE(payload, '$.id'), JSON_VALUE(payload, '$.sittingId'))
  WHERE kind IN ('inspectRecording', 'makePlayable', 'makePages', 'measureTake', 'timeUp', 'runImport', 'announceRelease');
-- What an earlier Ecoute gave up after half a minute is tried again.
UPDATE jobs SET state = 'waiting', attempts = 0, run_after = UTC_TIMESTAMP(3) WHERE state = 'failed';

-- Files whose rows are gone: they are removed after the transaction, and after a crash in between as well.
CREATE TABLE IF NOT EXISTS files_to_remove (
  file_key VARCHAR(200) CHARACTER SET ascii PRIMARY KEY,
  since DATETIME(3) NOT NULL
);
