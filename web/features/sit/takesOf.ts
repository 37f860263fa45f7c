import { countingTake } from '@ecoute/core/timing/itemRun';
import { answerFromMs } from '@ecoute/core/timing/takeClock';
import type { Medium } from '@ecoute/contract/recordings';
import type { SittingView, TakeSource } from '@ecoute/contract/sittings';
import type { Delivery } from '../../parts/recorder/delivery';

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
  /** Where it is, in words for its student. */
  status: 'onItsWay' | 'checking' | 'stored' | 'refused';
  message: string | null;
  silent: boolean;
  /** What it is, as far as is known by now, and its name where it came as a file. */
  medium: Medium | null;
  fileName: string | null;
  /** Still only on this device: heard from here. */
  local: boolean;
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

function statusOf({ recording, state }: Delivery): OwnTake['status'] {
  if (recording?.state === 'stored') return 'stored';
  if (recording?.state === 'refused' || state === 'kept') return 'refused';
  return state === 'checking' ? 'checking' : 'onItsWay';
}

/** An item's takes: those that the server knows, then those of this device that it does not know yet. */
export function takesOf(itemId: string, sitting: SittingView, deliveries: readonly Delivery[]): OwnTake[] {
  const stored = sitting.takes.filter(t => t.itemId === itemId);
  const byId = new Map(deliveries.map(d => [d.sound.id, d]));
  const known: OwnTake[] = stored.map(t => {
    // What the server says of a take that it stored is newer than what this device heard when it was delivered.
    const recording =
      t.recording.state === 'stored' ? t.recording : (byId.get(t.id)?.recording ?? t.recording);
    return {
      id: t.id,
      number: t.number,
      chosenAtMs: t.chosenAt ? Date.parse(t.chosenAt) : null,
      stands: recording.state === 'stored',
      durationMs: recording.durationMs,
      leadMs: t.clock?.beat ? Math.max(0, answerFromMs({ clock: t.clock, gateMs: recording.gateMs })) : 0,
      wholeMs: recording.trim?.wholeMs ?? null,
      status:
        recording.state === 'stored'
          ? 'stored'
          : recording.state === 'refused'
            ? 'refused'
            : recording.state === 'checking'
              ? 'checking'
              : 'onItsWay',
      message: recording.message,
      silent: recording.silent,
      medium: recording.medium,
      fileName: recording.fileName,
      local: byId.has(t.id) && recording.state === 'arriving',
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
    ...fresh.map((d, i): OwnTake => ({
      id: d.sound.id,
      number: last + 1 + i,
      chosenAtMs: null,
      stands: d.recording?.state === 'stored',
      durationMs: d.recording?.durationMs ?? null,
      leadMs: 0,
      wholeMs: null,
      status: statusOf(d),
      message: d.message,
      silent: d.recording?.silent ?? false,
      medium: d.recording?.medium ?? mediumOf(d.sound.mediaType),
      fileName: d.recording?.fileName ?? null,
      local: d.state !== 'delivered',
      source: 'recorded',
      title: '',
      note: '',
      pictureId: null,
    })),
  ];
}

/** The take that will count if nothing changes. */
export const counting = (takes: readonly OwnTake[]): OwnTake | null => countingTake(takes);

/** Takes that use up the allowance: all but the refused. */
export function used(takes: readonly OwnTake[]): number {
  return takes.filter(t => t.status !== 'refused').length;
}
