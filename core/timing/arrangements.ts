/** Access arrangements: what one student's needs change in an assessment's times. */

export interface Arrangement {
  /** Factor on preparing, answering and the whole sitting; 1 for everybody else. */
  extraTime: number;
  /** Hearings of a prompt beyond what the item allows. */
  extraHearings: number;
  /** Written prompts can be heard where the teacher has read them aloud. */
  readAloud: boolean;
  /** Breaks between items stop the clock of the whole sitting for so long in all, in ms; 0 for none. */
  breakMs: number;
  /** Directions in a second language, as a language tag, where the assessment has them; null for none. */
  directionsLanguage: string | null;
  /** Does not read yet: sittings are pictures and sound, one big thing at a time. */
  byEar: boolean;
}

export const ORDINARY: Arrangement = {
  extraTime: 1,
  extraHearings: 0,
  readAloud: false,
  breakMs: 0,
  directionsLanguage: null,
  byEar: false,
};

/** The arrangement that a teacher plans with before anybody in particular is in sight: half as much time again. */
export const HALF_AGAIN: Arrangement = {
  extraTime: 1.5,
  extraHearings: 1,
  readAloud: true,
  breakMs: 10 * 60_000,
  directionsLanguage: null,
  byEar: false,
};

interface Arranged {
  prepareMs: number;
  answerLimitMs: number;
  hearingsAllowed: number;
  turns: readonly { gapMs: number }[];
}

/** A length under an arrangement, in ms, rounded up to the second so that clocks on screen agree. */
export function extended(ms: number, arrangement: Arrangement): number {
  return arrangement.extraTime === 1 ? ms : Math.ceil((ms * arrangement.extraTime) / 1000) * 1000;
}

/** An item as a student with this arrangement meets it. No limit of hearings stays no limit. */
export function arranged<T extends Arranged>(item: T, arrangement: Arrangement): T {
  return {
    ...item,
    prepareMs: extended(item.prepareMs, arrangement),
    answerLimitMs: extended(item.answerLimitMs, arrangement),
    turns: item.turns.map(turn => ({ ...turn, gapMs: extended(turn.gapMs, arrangement) })),
    hearingsAllowed: item.hearingsAllowed === 0 ? 0 : item.hearingsAllowed + arrangement.extraHearings,
  };
}
