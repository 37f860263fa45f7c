-- When a student first looked at their feedback: until then it can be taken back.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS feedback_opened_at DATETIME(3) NULL;
UPDATE sittings SET feedback_opened_at = feedback_at WHERE feedback_at <= UTC_TIMESTAMP(3) AND feedback_opened_at IS NULL;

-- The student has said something last, and the teacher neither answered nor let it stand.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS reply_waits BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE replies ADD COLUMN IF NOT EXISTS settled_at DATETIME(3) NULL;

-- One overall level is to be given, and none is yet.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS lacks_level BOOLEAN NOT NULL DEFAULT FALSE;
