/** How many there must be before something is said of them. */

/** Reliability and what tells strong from weak: with fewer an interval would hold nearly everything. */
export const LEAST_STUDENTS = 10;
