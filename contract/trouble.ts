/** The one shape of an error. `message` says what happened, what is safe, and what to do next. */
export interface TroubleBody {
  code: TroubleCode;
  message: string;
  /** By field path, e.g. `content.items.0.points`. */
  fields?: Record<string, string>;
  /** What the answer needs besides words: for `stale`, what is stored now. */
  current?: unknown;
}

/**
 * Every kind of trouble: its HTTP status, what it means, and what the person can do. Programs decide by the code (and by
 * `fields`), never by the words; a new meaning is a new code.
 */
export const TROUBLES = {
  invalid: { status: 422, means: 'a field cannot stand as it is', next: 'mend the field that is named' },
  notSignedIn: { status: 401, means: 'nobody is signed in', next: 'sign in' },
  wrongPassword: {
    status: 401,
    means: 'name and password do not belong together',
    next: 'try again, or ask for a code',
  },
  tooManyTries: {
    status: 429,
    means: 'so much was tried that it could be guessing',
    next: 'wait as long as it says',
  },
  badCode: {
    status: 422,
    means: 'a one-time code that never was, is used or is over',
    next: 'ask for a new one',
  },
  deadLink: { status: 404, means: 'a link that leads nowhere (any more)', next: 'ask whoever gave it' },
  wrongClassCode: { status: 422, means: 'not the word of this door', next: 'ask the teacher for it' },
  accountClosed: {
    status: 403,
    means: 'nobody signs in to this account any more',
    next: 'ask an administrator',
  },
  noMail: { status: 409, means: 'no mail goes out from here', next: 'print it or say it' },
  noAddress: {
    status: 409,
    means: 'an account without a mail address',
    next: 'print the code, or ask their teacher',
  },
  byMailOnly: {
    status: 409,
    means: 'a code that only its owner may see',
    next: 'send it to their own address',
  },
  unknownName: { status: 422, means: 'nobody signs in with this name', next: 'mend it, or make an account' },
  ownAccount: {
    status: 409,
    means: 'nobody does this to their own account',
    next: 'ask another administrator',
  },
  lastOne: {
    status: 409,
    means: 'somebody must stay: the last teacher, the last administrator',
    next: 'name another first',
  },
  askerGone: { status: 409, means: 'whoever asked may not ask any more', next: 'be asked again' },
  alreadyDone: { status: 409, means: 'it was done, or let go of, before', next: 'look at what came of it' },
  notAllowed: {
    status: 403,
    means: 'it is there, and not for this person to change',
    next: 'ask whom it names',
  },
  notFound: {
    status: 404,
    means: 'it is not there, or not for this person',
    next: 'go back and choose again',
  },
  wrongOrigin: { status: 403, means: 'asked by another site', next: 'open Ecoute itself' },
  stale: {
    status: 409,
    means: 'somebody changed it meanwhile; `current` is theirs',
    next: 'look at both, save again',
  },
  releaseClosed: {
    status: 409,
    means: 'the assessment takes nothing any more',
    next: 'ask for an extension',
  },
  notOpenYet: { status: 409, means: 'students do not see it yet', next: 'wait, or show it' },
  inUse: { status: 409, means: 'somebody’s work hangs on it', next: 'hide it, or let it end earlier' },
  noSittingLeft: { status: 409, means: 'sat as often as it may be', next: 'ask for another sitting' },
  isDiscussion: {
    status: 409,
    means: 'people talk with each other in it: it is not sat, and not handed in by hand',
    next: 'open the discussion',
  },
  timeUp: {
    status: 409,
    means: 'the time of the sitting was up before',
    next: 'nothing: what was made before is handed in',
  },
  handedIn: { status: 409, means: 'it is handed in, and stays so', next: 'ask to be let redo it' },
  notHandedIn: { status: 409, means: 'it is not handed in yet', next: 'hand in, or wait for the hand-in' },
  staysHandedIn: { status: 409, means: 'a hand-in that cannot be taken back', next: 'ask the teacher' },
  wentOnElsewhere: {
    status: 409,
    means: 'a wish of one device for a sitting that went on on another since',
    next: 'open it, look, and hand in there',
  },
  feedbackGiven: {
    status: 409,
    means: 'its feedback is given, so it stays as it was heard',
    next: 'answer the feedback',
  },
  feedbackNotGiven: { status: 409, means: 'its feedback is not given yet', next: 'give it first' },
  decidedOtherwise: {
    status: 409,
    means: 'a decision of a teacher stands against it',
    next: 'undo that decision first',
  },
  begunAgain: {
    status: 409,
    means: 'the student went on with what a decision allowed',
    next: 'set the newer sitting aside',
  },
  notForThisItem: {
    status: 409,
    means: 'the assessment does not allow it for this item',
    next: 'answer as the item says',
  },
  hasNotes: { status: 409, means: 'notes are made on this take', next: 'record another one' },
  handoverOver: {
    status: 409,
    means: 'the phone’s part is over',
    next: 'ask for a new code on the first screen',
  },
  nothingToKeep: {
    status: 409,
    means: 'nothing is recorded yet',
    next: 'come back once somebody has handed in',
  },
  noTakesLeft: { status: 409, means: 'all takes of the item are used', next: 'choose among those there are' },
  unfinished: {
    status: 409,
    means: 'something is still under way',
    next: 'wait a moment',
  },
  hasGaps: {
    status: 409,
    means: 'items that ask for an answer have none',
    next: 'answer them, or hand in as it is',
  },
  recordingsAway: {
    status: 409,
    means: 'recordings that another device has and does not send; `current` names them',
    next: 'open that device, or hand in without',
  },
  opensForGood: {
    status: 409,
    means: 'what follows cannot be taken back, and nobody said yet that it may',
    next: 'say so',
  },
  tooLarge: { status: 413, means: 'more bytes than one thing may have', next: 'send less' },
  unsupported: {
    status: 415,
    means: 'a kind, coding or alphabet that is not read here',
    next: 'send another kind',
  },
  outOfRange: {
    status: 416,
    means: 'a stretch of a file that it does not have',
    next: 'ask for one that it has',
  },
  diskFull: {
    status: 507,
    means: 'the disk of the server has no room just now',
    next: 'wait: it is kept on the device',
  },
  overQuota: {
    status: 413,
    means: 'more than one person, release or door may keep',
    next: 'tell the teacher',
  },
  gone: { status: 410, means: 'a recording that takes no more bytes', next: 'record again' },
  busy: { status: 429, means: 'the same is being done already', next: 'try again in a moment' },
  notLinked: {
    status: 409,
    means: 'a class that is not matched with the school’s system',
    next: 'choose which of its classes it is',
  },
  schoolAway: {
    status: 503,
    means: 'the school’s system does not answer, or not as it should',
    next: 'try again later, or tell an administrator',
  },
  away: { status: 503, means: 'the database does not answer', next: 'try again in a moment' },
  unexpected: { status: 500, means: 'a mistake of ours', next: 'try again, and tell whoever looks after it' },
} as const satisfies Record<string, { status: number; means: string; next: string }>;

export type TroubleCode = keyof typeof TROUBLES;
