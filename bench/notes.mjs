// Figures of a bench that `./ecoute bench all` gathers: a line of JSON each, in the file that ECOUTE_BENCH_NOTES names.
import { appendFileSync } from 'node:fs';

/**
 * @param id what it is, as bench/all.mjs knows it
 * @param value in the unit that is said there
 * @param beside the bare counterpart of the same run; left out where there is none
 */
export function note(id, value, beside = null) {
  const file = process.env.ECOUTE_BENCH_NOTES;
  if (file) appendFileSync(file, `${JSON.stringify({ id, value, beside })}\n`);
}
