/** The one shape of an error. `message` says what happened, what is safe, and what to do next. */
export interface TroubleBody {
  code: TroubleCode;
  message: string;
  /** By field path, e.g. `content.items.0.points`. */
  fields?: Record<string, string>;
  /** What the answer needs besides words: for `stale`, what is stored now. */
  current?: unknown;
}

export type TroubleCode =
  | 'invalid'
  | 'notSignedIn'
  | 'wrongPassword'
  | 'tooManyTries'
  | 'notAllowed'
  | 'notFound'
  | 'wrongOrigin'
  | 'stale'
  | 'closed'
  | 'noTakesLeft'
  | 'unfinished'
  | 'tooLarge'
  | 'away'
  | 'unexpected';
