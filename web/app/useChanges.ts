import { useEffect, useRef } from 'react';
import type { Told } from '@ecoute/contract/changes';
import { api } from '../base/api';
import { tellSaid } from '../base/arrivals';
import { desk } from '../parts/recorder/delivery';
import { store } from '../base/store';

type Tags = Parameters<typeof api.util.invalidateTags>[0];

/** Changes are gathered for so long, so that a whole class handing in at once is one renewal. */
const GATHER_MS = 250;

/** What a page shows that a change touches. */
function tagsOf({ kind, id }: Told): Tags {
  switch (kind) {
    case 'release':
      return [
        'Release',
        'Calendar',
        ...(id ? [{ type: 'Decisions' as const, id }] : []),
        ...(id ? [{ type: 'Release' as const, id }] : []),
      ];
    case 'recording':
      return [];
    case 'session':
      return ['Session', 'Account'];
    case 'class':
      return ['Class', 'Invitations', ...(id ? [{ type: 'Class' as const, id }] : [])];
    case 'todo':
      return ['Todo', 'Calendar', 'Invitations', 'ToldMe'];
    case 'feedback':
      return ['Feedback', 'Todo', 'Release'];
    case 'listening':
      return id ? [{ type: 'Listeners', id }] : [];
    case 'said':
      return ['Todo'];
    case 'discussion':
      return ['Todo', ...(id ? [{ type: 'Discussion' as const, id }] : [])];
    case 'message':
      return ['Messages', ...(id ? [{ type: 'Messages' as const, id }] : [])];
    case 'together':
      return ['Turns', 'Sitting'];
    case 'evidence':
      return id ? [{ type: 'Evidence', id }] : [];
    case 'sitting':
      return id ? [{ type: 'Sitting', id }] : [];
    case 'calendar':
      return ['Calendar'];
  }
}

const EVERYTHING: Tags = [
  'Sitting',
  'Release',
  'Class',
  'Todo',
  'Feedback',
  'Calendar',
  'Evidence',
  'Discussion',
  'Invitations',
  'Messages',
  'ToldMe',
  'Turns',
];
/** A line that the server refused is asked for again after this long. */
const AGAIN_MS = 5_000;

/**
 * Keeps the page as it is on the server: what others change appears automatically. A page that is not seen keeps no
 * line open (browsers allow few of them at once) and catches up when it is looked at again. A line that is refused may
 * mean that the session was ended elsewhere: then nothing of this person stays on the screen.
 * @param sitting somebody sits: their page is not taken from under them, what they record waits for the next sign-in
 */
export function useChanges(personId: string | undefined, sitting: boolean): void {
  const isSitting = useRef(sitting);
  isSitting.current = sitting;
  useEffect(() => {
    if (!personId) return;
    let line: EventSource | null = null;
    let missed = false;
    let again: ReturnType<typeof setTimeout> | undefined;
    let gathered: Tags[number][] = [];
    let timer: ReturnType<typeof setTimeout> | null = null;
    const renew = (tags: Tags) => {
      gathered.push(...tags);
      timer ??= setTimeout(() => {
        timer = null;
        store.dispatch(api.util.invalidateTags(gathered));
        gathered = [];
      }, GATHER_MS);
    };
    const open = () => {
      line = new EventSource('/api/changes');
      line.onmessage = ({ data }: MessageEvent<string>) => {
        const told = JSON.parse(data) as Told;
        if (told.kind === 'recording') desk.wake(told.id);
        else renew(tagsOf(told));
        if (told.kind === 'said' && told.id) tellSaid(told.id);
      };
      line.onopen = () => {
        if (missed) renew(EVERYTHING);
        missed = false;
      };
      line.onerror = () => {
        missed = true;
        if (line?.readyState !== EventSource.CLOSED) return;
        line = null;
        if (!isSitting.current) renew(['Session']);
        again = setTimeout(follow, AGAIN_MS);
      };
    };
    const follow = () => {
      if (document.hidden) {
        line?.close();
        line = null;
        missed = true;
      } else if (!line) open();
    };
    follow();
    document.addEventListener('visibilitychange', follow);
    return () => {
      document.removeEventListener('visibilitychange', follow);
      line?.close();
      clearTimeout(again);
      if (timer) clearTimeout(timer);
    };
  }, [personId]);
}
