/** Conditions, as SQL, of what was said in discussions: what every store, and every right, means by the same words. */

/**
 * Whether a take, as `t`, is anybody's but its student's: what was recorded for a discussion is theirs alone until it is put in, and
 * again once it is taken back; what was corrected is among what counts no more.
 */
export const TAKE_IS_IN = `NOT EXISTS (SELECT 1 FROM contributions ci WHERE ci.id = t.id
  AND (ci.put_in_at IS NULL OR ci.taken_back_at IS NOT NULL OR ci.replaced_at IS NOT NULL))`;

/** Of a take, as `t`: it is no draft of a discussion, and was not taken back there. What was corrected its teachers may still hear. */
export const TAKE_MAY_BE_HEARD = `NOT EXISTS (SELECT 1 FROM contributions ci WHERE ci.id = t.id
  AND (ci.put_in_at IS NULL OR ci.taken_back_at IS NOT NULL))`;

/**
 * Whether a contribution is in, nobody has taken it out again in any way, and its sound is here.
 * @param c the name of its row; @param x that of its recording's, joined on the left
 */
export const contributionStands = (c: string, x: string): string =>
  `${c}.put_in_at IS NOT NULL AND ${c}.taken_back_at IS NULL AND ${c}.replaced_at IS NULL AND ${c}.hidden_at IS NULL
   AND (${c}.voice_id IS NULL OR ${x}.state = 'stored')`;
