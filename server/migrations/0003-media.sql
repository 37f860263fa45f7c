-- Pictures, pages, notation, films and files beside sounds; tags; departments and their shelf; self-assessment.

ALTER TABLE recordings
  ADD COLUMN wanted ENUM('sound','voice','picture','show','file','video') NOT NULL DEFAULT 'sound' AFTER purpose,
  ADD COLUMN medium ENUM('sound','video','picture','pages','notation','file') NULL AFTER wanted,
  ADD COLUMN details LONGTEXT NULL CHECK (details IS NULL OR JSON_VALID(details));
UPDATE recordings SET medium = 'sound' WHERE state = 'stored';

-- Lists of can-do statements or standards. A statement that is put on an item is copied there.
CREATE TABLE tag_lists (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  name VARCHAR(160) NOT NULL,
  created_at DATETIME(3) NOT NULL,
  KEY tag_lists_owner (owner_id, name),
  CONSTRAINT tag_lists_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id)
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE tags (
  list_id UUID NOT NULL,
  place INT UNSIGNED NOT NULL,
  code VARCHAR(60) NOT NULL,
  words VARCHAR(400) NOT NULL,
  PRIMARY KEY (list_id, place),
  CONSTRAINT tags_list_fk FOREIGN KEY (list_id) REFERENCES tag_lists (id) ON DELETE CASCADE
) DEFAULT CHARSET=utf8mb4;

-- Teachers who share a shelf.
CREATE TABLE departments (
  id UUID PRIMARY KEY,
  name VARCHAR(160) NOT NULL,
  created_at DATETIME(3) NOT NULL
) DEFAULT CHARSET=utf8mb4;

CREATE TABLE department_members (
  department_id UUID NOT NULL,
  person_id UUID NOT NULL,
  PRIMARY KEY (department_id, person_id),
  KEY department_members_person (person_id),
  CONSTRAINT department_members_department FOREIGN KEY (department_id) REFERENCES departments (id),
  CONSTRAINT department_members_person_fk FOREIGN KEY (person_id) REFERENCES people (id)
);

-- Where an assessment stands for colleagues; `edits` lets them change it as well.
CREATE TABLE assessment_shares (
  assessment_id UUID NOT NULL,
  department_id UUID NOT NULL,
  edits BOOLEAN NOT NULL,
  created_at DATETIME(3) NOT NULL,
  PRIMARY KEY (assessment_id, department_id),
  KEY assessment_shares_department (department_id),
  CONSTRAINT assessment_shares_assessment FOREIGN KEY (assessment_id) REFERENCES assessments (id),
  CONSTRAINT assessment_shares_department_fk FOREIGN KEY (department_id) REFERENCES departments (id)
);

-- Which files a draft uses: colleagues who may see the draft may hear and see these.
CREATE TABLE assessment_files (
  assessment_id UUID NOT NULL,
  recording_id UUID NOT NULL,
  PRIMARY KEY (assessment_id, recording_id),
  KEY assessment_files_recording (recording_id),
  CONSTRAINT assessment_files_assessment FOREIGN KEY (assessment_id) REFERENCES assessments (id)
);

ALTER TABLE assessments
  ADD COLUMN saved_by UUID NULL,
  ADD COLUMN is_template BOOLEAN NOT NULL DEFAULT FALSE;

-- What students say of their own answers, on the scheme of the assessment. `item_id` is the whole sitting's own
-- id where the whole is judged. It changes until the hand-in and never after.
CREATE TABLE self_assessments (
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  judgement LONGTEXT NOT NULL CHECK (JSON_VALID(judgement)),
  updated_at DATETIME(3) NOT NULL,
  PRIMARY KEY (sitting_id, item_id),
  CONSTRAINT self_assessments_sitting FOREIGN KEY (sitting_id) REFERENCES sittings (id)
) DEFAULT CHARSET=utf8mb4;
