import { fateOf, usedUp, type DeviceSide, type Fate } from '@ecoute/core/takes/fate';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { answerFromMs } from '@ecoute/core/timing/takeClock';
import type { Medium, RecordingView } from '@ecoute/contract/recordings';
import type { SittingView } from '@ecoute/contract/sittings';
import type { TakeSource } from '@ecoute/contract/recordings';
import { problemWords } from './problemWords';
import type { Delivery } from '../../../parts/recorder/delivery';

export interface OwnTake {
  id: string;
  number: number;
  chosenAtMs: number | null;
  stands: boolean;
  durationMs: number | null;
  /** What of it lies before the answer: a count-in. */
  leadMs: number;
  /** Length before it was cut; null where it was not. */
  wholeMs: number | null;
  /** Where it is, in words for its student. `away`: another device has it and does not send. */
  status: 'onItsWay' | 'checking' | 'stored' | 'refused' | 'away';
  fate: Fate;
  message: string | null;
  silent: boolean;
  /** So much of what was recorded is not in it, in ms; null where nothing is missing. */
  missingMs: number | null;
  /** What it is, as far as is known by now, and its name where it came as a file. */
  medium: Medium | null;
  fileName: string | null;
  /** Still only on this device: heard from here. */
  local: boolean;
  /** The server did not take it: it can be offered again, saved, or thrown away. */
  isKept: boolean;
  source: TakeSource;
  title: string;
  note: string;
  pictureId: string | null;
}

/** What a sound of this device is, before the server has looked at it. */
function mediumOf(mediaType: string): Medium | null {
  if (mediaType.startsWith('audio/')) return 'sound';
  return mediaType.startsWith('video/') ? 'video' : null;
}

/** The name of a file that is on its way; null for what is recorded here. */
function announcedName({ sound }: Delivery): string | null {
  const body = sound.announce?.body;
  return body && 'fileName' in body && typeof body.fileName === 'string' ? body.fileName : null;
}

const STATUS: Record<Fate, OwnTake['status']> = {
  recording: 'onItsWay',
  onTheWay: 'onItsWay',
  coming: 'onItsWay',
  quiet: 'away',
  lookedAt: 'checking',
  stands: 'stored',
  standsInPart: 'stored',
  refused: 'refused',
  lost: 'refused',
  letGo: 'refused',
};

/** Why a part of what was delivered was not taken; null where all of it was. */
function deliveredWords(delivery: Delivery | undefined): string | null {
  return delivery?.state === 'delivered' && delivery.recording?.state === 'stored' ? delivery.message : null;
}

/** What this device knows of a sound that is on its way from here; null where it is not. */
function deviceSide(delivery: Delivery | undefined): DeviceSide | null {
  if (!delivery || delivery.state === 'delivered') return null;
  return { bytes: delivery.bytes, ended: delivery.sound.ended };
}

/** An item's takes: those that the server knows, then those of this device that it does not know yet. */
export function takesOf(
  itemId: string,
  sitting: SittingView,
  deliveries: readonly Delivery[],
  nowMs = Date.now(),
): OwnTake[] {
  const stored = sitting.takes.filter(t => t.itemId === itemId);
  const byId = new Map(deliveries.map(d => [d.sound.id, d]));
  // The page may be older than what it says of quiet.
  const aged = (recording: RecordingView) => ({
    ...recording,
    quietMs: recording.quietMs + Math.max(0, nowMs - (Date.parse(sitting.now) || nowMs)),
  });
  const known: OwnTake[] = stored.map(t => {
    const delivery = byId.get(t.id);
    // What the server says of a take that it stored is newer than what this device heard when it was delivered.
    const recording = t.recording.state === 'stored' ? t.recording : (delivery?.recording ?? t.recording);
    const isKept = delivery?.state === 'kept';
    const fate = fateOf(aged(recording), deviceSide(delivery));
    return {
      id: t.id,
      number: t.number,
      chosenAtMs: t.chosenAt ? Date.parse(t.chosenAt) : null,
      stands: recording.state === 'stored',
      durationMs: recording.durationMs,
      leadMs: t.clock?.beat ? Math.max(0, answerFromMs({ clock: t.clock, gateMs: recording.gateMs })) : 0,
      wholeMs: recording.trim?.wholeMs ?? null,
      status: isKept ? 'refused' : STATUS[fate],
      fate,
      // What was delivered and still has words: its drawing was not taken.
      message: isKept ? delivery.message : (problemWords(recording) ?? deliveredWords(delivery)),
      silent: recording.silent,
      missingMs: t.missingMs,
      medium: recording.medium,
      fileName: recording.fileName,
      local: delivery !== undefined && recording.state === 'arriving',
      isKept,
      source: t.source,
      title: t.title,
      note: t.note,
      pictureId: t.pictureId,
    };
  });
  const ids = new Set(stored.map(t => t.id));
  const fresh = deliveries
    .filter(
      d => d.sound.place.sittingId === sitting.id && d.sound.place.itemId === itemId && !ids.has(d.sound.id),
    )
    .sort((a, b) => a.sound.beganAt.localeCompare(b.sound.beganAt));
  const last = Math.max(0, ...known.map(t => t.number));
  return [
    ...known,
    ...fresh.map((d, i): OwnTake => {
      const isKept = d.state === 'kept';
      const isSettled = d.recording?.state === 'stored' || d.recording?.state === 'refused';
      const fate = fateOf(isSettled ? d.recording : null, deviceSide(d));
      const status =
        isKept || d.recording?.state === 'refused'
          ? 'refused'
          : d.recording?.state === 'stored'
            ? 'stored'
            : d.state === 'checking'
              ? 'checking'
              : 'onItsWay';
      return {
        id: d.sound.id,
        number: last + 1 + i,
        chosenAtMs: null,
        stands: d.recording?.state === 'stored',
        durationMs: d.recording?.durationMs ?? null,
        leadMs: 0,
        wholeMs: null,
        status,
        fate,
        message: d.recording?.problem ? problemWords(d.recording) : d.message,
        silent: d.recording?.silent ?? false,
        missingMs: null,
        medium: d.recording?.medium ?? mediumOf(d.sound.mediaType),
        fileName: d.recording?.fileName ?? announcedName(d),
        local: d.state !== 'delivered',
        isKept,
        source: 'recorded',
        title: '',
        note: '',
        pictureId: null,
      };
    }),
  ];
}

/** The take that will count if nothing changes. */
export const counting = (takes: readonly OwnTake[]): OwnTake | null => countingTake(takes);

/**
 * Takes that use up the allowance: all but what does not count, what never came, and one in which nothing is heard because a
 * device failed.
 */
export function used(
  takes: readonly OwnTake[],
  deviceFailed = false,
): { used: number; isGivenBack: boolean } {
  return usedUp(
    takes.map(t => ({
      usesUp: t.status !== 'refused' && t.status !== 'away',
      isSilent: t.status === 'stored' && t.silent,
    })),
    deviceFailed || takes.some(t => t.missingMs !== null),
  );
}
