-- A pass counts as an answer in lists as well: what was counted before is counted again.
UPDATE sittings SET answered = NULL
  WHERE id IN (SELECT e.sitting_id FROM sitting_events e WHERE e.kind = 'passed');
