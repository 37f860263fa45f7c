-- What a take knows of its place in time, and what its student says of it; handing an item over to a phone; which
-- device a sitting is done on; taking back what was handed in.

ALTER TABLE recordings ADD gate_ms DECIMAL(9, 3) NULL;

ALTER TABLE takes
  ADD clock LONGTEXT NULL CHECK (clock IS NULL OR JSON_VALID(clock)),
  ADD source ENUM('recorded', 'uploaded', 'phone') NOT NULL DEFAULT 'recorded',
  ADD title VARCHAR(160) NOT NULL DEFAULT '',
  ADD note VARCHAR(2000) NOT NULL DEFAULT '',
  ADD picture_id UUID NULL,
  ADD CONSTRAINT takes_picture FOREIGN KEY (picture_id) REFERENCES recordings (id);

-- The device (a browser's own id) that goes on with a sitting; another one is told before it takes over.
ALTER TABLE sittings
  ADD device_id UUID NULL,
  ADD device_seen_at DATETIME(3) NULL;

-- A code on the first screen that lets a phone answer one item, without signing in there.
CREATE TABLE handovers (
  id UUID PRIMARY KEY,
  code_hash BINARY(32) NOT NULL,
  sitting_id UUID NOT NULL,
  item_id UUID NOT NULL,
  created_at DATETIME(3) NOT NULL,
  expires_at DATETIME(3) NOT NULL,
  opened_at DATETIME(3) NULL,
  closed_at DATETIME(3) NULL,
  UNIQUE KEY handovers_code (code_hash),
  KEY handovers_sitting (sitting_id, item_id),
  CONSTRAINT handovers_sitting_fk FOREIGN KEY (sitting_id) REFERENCES sittings (id)
);
