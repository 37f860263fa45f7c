import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingAccount, SittingEvent, SittingEventKind } from '@ecoute/contract/sittings';

/** One line of an account. */
export interface AccountLine {
  at: string;
  words: string;
  /** Something a teacher may want to know of: somebody went away, a connection broke. */
  stands: boolean;
}

const WORDS: Record<SittingEventKind, string> = {
  promptBegan: 'the prompt began to sound',
  promptEnded: 'the prompt was heard to its end',
  promptCut: 'the page went away while the prompt sounded; the first time it may be heard again',
  prepareBegan: 'began to prepare',
  prepareSkipped: 'was ready before the time to prepare was over',
  recordingBegan: 'recording began',
  recordingPaused: 'paused the recording',
  recordingResumed: 'went on recording',
  recordingEnded: 'recording ended',
  hintOpened: 'opened the hint',
  passed: 'passed on the item',
  passTakenBack: 'answers it after all',
  studied: 'ticked it as gone through',
  itemsOpened: 'saw the items for the first time',
  pageHidden: 'turned to something else on the device',
  pageShown: 'came back to the page',
  connectionLost: 'lost the connection',
  connectionBack: 'was connected again',
  resumed: 'came back to the sitting',
  breakBegan: 'began a break',
  breakEnded: 'ended the break',
  phoneOpened: 'opened the item on a phone',
  phoneLeft: 'put the phone away',
  movedHere: 'went on on another device',
  handedIn: 'handed in',
  handInWanted: 'wanted to hand in, on a device without a connection',
  withdrawn: 'took back what was handed in',
  takeTrimmed: 'cut a take to a stretch of it',
  takeMadeWhole: 'put a take back to its whole length',
  readAloud: 'had the words read aloud',
  takeCutShort: 'a take counts as far as it came: its device did not send the rest',
  takeLost: 'a take never came from the device that made it; it may be recorded again',
  takeLetGo: 'let go of a take that was on its way',
  takeCameBack: 'the device came back with the rest of a take',
  takeSaidEarlier: 'a take was announced after the end, and is said to have begun before it',
  modelsOpened: 'opened the model answers',
  othersOpened: 'began to hear the others',
  itemShown: 'saw the item',
  microphoneLost: 'the microphone was taken away while it recorded; one take more is allowed for it',
  recordingCut: 'the page had gone away while it recorded; what was recorded until then is kept',
  recordedTogether: 'was recorded with others; the recording came into this sitting',
  saidNotThere: 'says that they were not there when it was recorded',
  takeGivenBack: 'a take in which nothing could be heard did not count; one more was let in',
};

const STANDING_OUT = new Set<SittingEventKind>([
  'pageHidden',
  'connectionLost',
  'movedHere',
  'handInWanted',
  'withdrawn',
  'phoneOpened',
  'takeTrimmed',
  'saidNotThere',
  'takeCutShort',
  'takeLost',
  'takeLetGo',
  'takeSaidEarlier',
  'promptCut',
  'recordingCut',
  'microphoneLost',
  'takeGivenBack',
]);

/** How long something went on that one event began and another ended. */
const ENDS: Partial<Record<SittingEventKind, SittingEventKind>> = {
  pageShown: 'pageHidden',
  connectionBack: 'connectionLost',
  recordingEnded: 'recordingBegan',
  breakEnded: 'breakBegan',
};

function lasted(event: SittingEvent, before: readonly SittingEvent[]): string {
  const began = ENDS[event.kind];
  if (!began) return '';
  const start = before.findLast(e => e.kind === began && e.itemId === event.itemId);
  return start ? `, after ${clock(Date.parse(event.at) - Date.parse(start.at))}` : '';
}

/**
 * A sitting in plain sentences, in the order in which it happened.
 * @param items as this student met them
 */
export function accountLines(account: SittingAccount, items: readonly Item[]): AccountLine[] {
  const number = new Map(items.map((item, i) => [item.id, i + 1]));
  const events = [...account.events].sort((a, b) => a.at.localeCompare(b.at));
  const lines = events.map((event, i): AccountLine => {
    const item = event.itemId ? number.get(event.itemId) : undefined;
    const of = item ? `Item ${item}: ` : '';
    const words = `${WORDS[event.kind]}${lasted(event, events.slice(0, i))}`;
    return {
      at: event.at,
      words: `${of}${of ? words : words.charAt(0).toUpperCase() + words.slice(1)}`,
      stands: STANDING_OUT.has(event.kind),
    };
  });
  const missing = account.takes.flatMap((take): AccountLine[] => {
    if (take.missingMs === null) return [];
    const item = number.get(take.itemId);
    return [
      {
        at: account.events.at(-1)?.at ?? account.beganAt,
        words: `${item ? `Item ${item}: ` : ''}about ${clock(take.missingMs)} of take ${take.number} is missing: the device did not record it`,
        stands: true,
      },
    ];
  });
  return [{ at: account.beganAt, words: 'Opened the sitting', stands: false }, ...lines, ...missing];
}
