-- When a sitting was due before a later one was allowed: what was late stays late, and what was in time in time.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS due_was DATETIME(3) NULL;

-- A take that was recorded after the feedback, because a teacher asked for it there.
ALTER TABLE takes ADD COLUMN IF NOT EXISTS ask_id UUID NULL;
