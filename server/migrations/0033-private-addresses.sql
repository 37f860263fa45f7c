-- Addresses that are keys themselves: whoever has one sees or hears what it leads to, until it is revoked.
CREATE TABLE IF NOT EXISTS private_addresses (
  id UUID PRIMARY KEY,
  owner_id UUID NOT NULL,
  kind ENUM('podcast') NOT NULL,
  made_at DATETIME(3) NOT NULL,
  UNIQUE KEY private_addresses_owner (owner_id, kind),
  CONSTRAINT private_addresses_owner_fk FOREIGN KEY (owner_id) REFERENCES people (id) ON DELETE CASCADE
);
