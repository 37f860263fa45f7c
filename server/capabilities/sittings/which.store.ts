/**
 * Which sittings a question is about: some by their ids, or all of a release. Six hundred ids take the database longer
 * to read than finding what there is of them, and they would have to be known first.
 */
export type WhichSittings = readonly string[] | { releaseId: string };

/**
 * How a question says it.
 * @param column of a sitting's id
 * @returns nothing to ask about where a list is empty, else the condition and the values of its names
 */
export function among(column: string, which: WhichSittings): { sql: string; values: object } | null {
  if ('releaseId' in which)
    return { sql: `${column} IN (SELECT id FROM sittings WHERE release_id = :releaseId)`, values: which };
  return which.length === 0 ? null : { sql: `${column} IN (:sittingIds)`, values: { sittingIds: which } };
}
