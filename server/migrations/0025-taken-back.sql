-- When a student first looked at their feedback: until then it can be taken back.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS feedback_opened_at DATETIME(3) NULL;
UPDATE sittings SET feedback_opened_at = feedback_at WHERE feedback_at <= UTC_TIMESTAMP(3) AND feedback_opened_at IS NULL;

-- The student has said something last, and the teacher neither answered nor let it stand.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS reply_waits BOOLEAN NOT NULL DEFAULT FALSE;
ALTER TABLE replies ADD COLUMN IF NOT EXISTS settled_at DATETIME(3) NULL;
UPDATE sittings s SET s.reply_waits = EXISTS (SELECT 1 FROM replies r WHERE r.sitting_id = s.id
  AND r.author_id = s.student_id AND (r.words <> '' OR r.voice_id IS NOT NULL)
  AND NOT EXISTS (SELECT 1 FROM replies l WHERE l.sitting_id = r.sitting_id AND l.item_id <=> r.item_id
    AND (l.made_at > r.made_at OR (l.made_at = r.made_at AND l.id > r.id))));

-- One overall level is to be given, and none is yet.
ALTER TABLE sittings ADD COLUMN IF NOT EXISTS lacks_level BOOLEAN NOT NULL DEFAULT FALSE;
UPDATE sittings s JOIN releases r ON r.id = s.release_id JOIN assessment_versions v ON v.id = r.version_id
  SET s.lacks_level = NOT EXISTS (SELECT 1 FROM overall_levels l
    WHERE l.sitting_id = s.id AND l.in_force = 1 AND l.level IS NOT NULL)
  WHERE JSON_VALUE(v.content, '$.scoring.kind') = 'level';
