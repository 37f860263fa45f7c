import { blankItem } from '@ecoute/contract/blank';
import { SITTING_EVENT_KINDS, type SittingEventKind } from '@ecoute/contract/sittings';
import { accountLines } from './accountWords';

const at = (second: number) => new Date(Date.UTC(2026, 10, 25, 9, 0, second)).toISOString();
const event = (second: number, kind: SittingEventKind, itemId: string | null = null) => ({
  id: `${second}${kind}`,
  at: at(second),
  kind,
  itemId,
});
const account = (events: ReturnType<typeof event>[]) => ({
  studentName: 'Emrys',
  beganAt: at(0),
  handedInAt: null,
  events,
  takes: [],
  relative: false,
});
const items = [blankItem('a'), blankItem('b')];

describe('the account of a sitting', () => {
  it('says in order what happened, with the item’s number and how long it took', () => {
    const lines = accountLines(
      account([
        event(40, 'recordingEnded', 'b'),
        event(5, 'itemsOpened'),
        event(10, 'recordingBegan', 'b'),
        event(20, 'pageHidden'),
        event(27, 'pageShown'),
      ]),
      items,
    );
    expect(lines.map(l => l.words)).toEqual([
      'Opened the sitting',
      'Saw the items for the first time',
      'Item 2: recording began',
      'Turned to something else on the device',
      'Came back to the page, after 0:07',
      'Item 2: recording ended, after 0:30',
    ]);
    expect(lines.filter(l => l.stands).map(l => l.at)).toEqual([at(20)]);
  });

  it('has words for everything that can happen, and takes no time from another item', () => {
    const every = SITTING_EVENT_KINDS.map((kind, i) => event(i, kind));
    for (const line of accountLines(account(every), items))
      expect(line.words).toMatch(/^[A-Z][a-z ,;0-9:]+$/);
    const crossed = accountLines(
      account([event(1, 'recordingBegan', 'a'), event(9, 'recordingEnded', 'b')]),
      items,
    );
    expect(crossed.at(-1)!.words).toBe('Item 2: recording ended');
  });
});
