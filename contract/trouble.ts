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
  /** A one-time code that never was, is used or is over. */
  | 'badCode'
  /** A link that leads nowhere (any more). */
  | 'deadLink'
  | 'wrongClassCode'
  /** Nobody signs in to this account any more. */
  | 'accountClosed'
  /** No mail goes out from here. */
  | 'noMail'
  /** Nobody signs in with a name that was given. */
  | 'unknownName'
  | 'notAllowed'
  | 'notFound'
  | 'wrongOrigin'
  | 'stale'
  | 'closed'
  | 'noTakesLeft'
  | 'unfinished'
  /** Recordings that another device has and does not send; `current` names them. */
  | 'recordingsAway'
  /** What follows cannot be taken back, and the person has not said yet that it may. */
  | 'opensForGood'
  | 'tooLarge'
  /** A body in a kind, coding or alphabet that is not read here. */
  | 'unsupported'
  /** A stretch of a file that it does not have. */
  | 'outOfRange'
  /** The disk of the server has no room just now. */
  | 'diskFull'
  /** More would pass what one person, release or door may keep. */
  | 'overQuota'
  /** A recording that takes no more bytes. */
  | 'gone'
  /** The same is being done already; it can be tried again in a moment. */
  | 'busy'
  | 'away'
  | 'unexpected';
