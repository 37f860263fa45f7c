-- Who hid the names of a release, and who showed them again.
CREATE TABLE IF NOT EXISTS names_changes (
  id BIGINT UNSIGNED AUTO_INCREMENT PRIMARY KEY,
  release_id UUID NOT NULL,
  hidden BOOLEAN NOT NULL,
  changed_by UUID NOT NULL,
  changed_at DATETIME(3) NOT NULL,
  KEY names_changes_release (release_id, changed_at),
  CONSTRAINT names_changes_release_fk FOREIGN KEY (release_id) REFERENCES releases (id) ON DELETE CASCADE,
  CONSTRAINT names_changes_person_fk FOREIGN KEY (changed_by) REFERENCES people (id)
);
