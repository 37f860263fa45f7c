-- Addresses at which a whole discussion is a podcast: one for each teacher who made one, until they revoke it or teach it no more.
CREATE TABLE IF NOT EXISTS discussion_feeds (
  id UUID PRIMARY KEY,
  release_id UUID NOT NULL,
  owner_id UUID NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY discussion_feeds_owner (release_id, owner_id),
  KEY discussion_feeds_person (owner_id),
  CONSTRAINT discussion_feeds_release_fk FOREIGN KEY (release_id) REFERENCES releases (id) ON DELETE CASCADE,
  CONSTRAINT discussion_feeds_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id) ON DELETE CASCADE
);
