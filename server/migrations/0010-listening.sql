-- Why a score is not the rubric's, or not the one before.
ALTER TABLE marks ADD reason VARCHAR(500) NOT NULL DEFAULT '';
ALTER TABLE overall_levels ADD reason VARCHAR(500) NOT NULL DEFAULT '';

-- Who listens to what just now. A row that was not renewed for a while is somebody who has left.
CREATE TABLE listeners (
  release_id UUID NOT NULL,
  person_id UUID NOT NULL,
  sitting_id UUID NULL,
  seen_at DATETIME(3) NOT NULL,
  PRIMARY KEY (release_id, person_id),
  CONSTRAINT listeners_release FOREIGN KEY (release_id) REFERENCES releases (id),
  CONSTRAINT listeners_person FOREIGN KEY (person_id) REFERENCES people (id)
);

-- What a teacher decided about one student's part in a release. It can be undone; nothing of it removes a recording.
CREATE TABLE decisions (
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  person_id UUID NOT NULL,
  sitting_id UUID NULL,
  kind ENUM('giveBack', 'setAside', 'acceptLate', 'excuse', 'another') NOT NULL,
  reason VARCHAR(1000) NOT NULL,
  -- What the student was granted before and after, as JSON, so that undoing knows what to restore.
  exception_before LONGTEXT NOT NULL CHECK (JSON_VALID(exception_before)),
  exception_after LONGTEXT NOT NULL CHECK (JSON_VALID(exception_after)),
  made_by UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  undone_by UUID NULL,
  undone_at DATETIME(3) NULL,
  KEY decisions_release (release_id, made_at),
  KEY decisions_sitting (sitting_id),
  KEY decisions_person (person_id),
  CONSTRAINT decisions_release_fk FOREIGN KEY (release_id) REFERENCES releases (id),
  CONSTRAINT decisions_person_fk FOREIGN KEY (person_id) REFERENCES people (id),
  CONSTRAINT decisions_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id),
  CONSTRAINT decisions_maker FOREIGN KEY (made_by) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

ALTER TABLE sittings
  ADD given_back_at DATETIME(3) NULL,
  ADD set_aside_at DATETIME(3) NULL,
  ADD late_accepted_at DATETIME(3) NULL;

-- Listening without names: nothing of whose a recording is leaves the server until it is returned.
ALTER TABLE releases ADD names_hidden BOOLEAN NOT NULL DEFAULT FALSE;
