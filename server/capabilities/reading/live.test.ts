import type { SittingEvent, SittingEventKind } from '@ecoute/contract/sittings';
import { blankItem } from '@ecoute/contract/blank';
import { liveFrom } from './live';

const items = ['one', 'two'].map(id =>
  blankItem(id, 'homework', { promptText: 'Say it.', prepareMs: 10_000, answerLimitMs: 30_000 }),
);
const began = Date.parse('2026-11-25T12:00:00Z');
const event = (kind: SittingEventKind, atSec: number, itemId: string | null = null): SittingEvent => ({
  id: `${kind} ${atSec}`,
  kind,
  itemId,
  at: new Date(began + atSec * 1000).toISOString(),
});
const live = (nowSec: number, ...events: SittingEvent[]) => liveFrom(items, events, began + nowSec * 1000);

describe('what a student does just now', () => {
  it('is nothing before the first word of the page', () => {
    expect(live(5)).toBeNull();
  });

  it('follows prompt, preparing, recording and answer of the item they are at', () => {
    const so = [event('itemsOpened', 0), event('promptBegan', 1, 'one'), event('promptEnded', 4, 'one')];
    expect(live(2, ...so.slice(0, 2))).toMatchObject({ itemNumber: 1, phase: 'prompt', here: true });
    const prepares = [...so, event('prepareBegan', 5, 'one')];
    expect(live(8, ...prepares)).toMatchObject({ itemNumber: 1, phase: 'prepare' });
    const records = [...prepares, event('recordingBegan', 15, 'one')];
    expect(live(20, ...records)).toMatchObject({ phase: 'record', sinceAt: event('recordingBegan', 15).at });
    // The limit of the answer ends it by the clock alone.
    expect(live(60, ...records)).toMatchObject({ phase: 'review' });
    const next = [...records, event('recordingEnded', 30, 'one'), event('promptBegan', 40, 'two')];
    expect(live(41, ...next)).toMatchObject({ itemNumber: 2, phase: 'prompt' });
  });

  it('says who only reads the directions', () => {
    expect(live(3, event('itemsOpened', 0))).toMatchObject({ itemNumber: null, phase: null, here: true });
  });

  it('says who has left the page, or has not been heard of for long', () => {
    const at = [event('promptBegan', 1, 'one')];
    expect(live(4, ...at, event('pageHidden', 3))!.here).toBe(false);
    expect(live(9, ...at, event('pageHidden', 3), event('pageShown', 8))!.here).toBe(true);
    expect(live(3_600, ...at)!.here).toBe(false);
  });

  it('does not stumble over an item that is not in this version', () => {
    expect(live(3, event('promptBegan', 1, 'gone'))).toMatchObject({ itemNumber: null });
  });
});
