import type { TroubleBody } from '@ecoute/contract/trouble';

/** An answer of the server that is not good, or that never came. */
export interface Refusal extends TroubleBody {
  /** HTTP status; 0 when the server could not be reached. */
  status: number;
}

/** The refusal inside what a mutation threw, or null for anything else. */
export function refusalOf(error: unknown): Refusal | null {
  return error && typeof error === 'object' && 'code' in error && 'message' in error
    ? (error as Refusal)
    : null;
}

/** Nobody answered. */
export const AWAY =
  'Ecoute cannot be reached just now. What you entered is still here: try again when the connection is back.';
