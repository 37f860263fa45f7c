-- Of a sitting that is to be recorded again: the items asked for (none named: all), and why. Of the one made for it: which
-- items are open in it, from which sitting the others stand, and why it is made.
ALTER TABLE sittings
  ADD COLUMN IF NOT EXISTS asked_items JSON NULL,
  ADD COLUMN IF NOT EXISTS asked_for VARCHAR(2000) NULL,
  ADD COLUMN IF NOT EXISTS open_items JSON NULL,
  ADD COLUMN IF NOT EXISTS stands_from UUID NULL,
  ADD COLUMN IF NOT EXISTS again_for VARCHAR(2000) NULL;
