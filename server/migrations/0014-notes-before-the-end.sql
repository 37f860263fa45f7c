-- Notes that a student may hear while the sitting is still under way.
ALTER TABLE decisions
  MODIFY kind ENUM('giveBack', 'setAside', 'acceptLate', 'excuse', 'another', 'showNotes') NOT NULL;
ALTER TABLE sittings ADD notes_shown_at DATETIME(3) NULL;
