import { useEffect, useSyncExternalStore } from 'react';
import { api, refusalOf } from '../../../base/api';
import { ownKey, pagePerson } from '../../../base/own';
import type { Refusal } from '../../../base/refusal';
import { store } from '../../../base/store';
import { useMe } from '../../../base/useMe';
import { doorUrl } from '../endpoints';
import { PuttingIn, type Going } from './puttingIn';

const key = () => ownKey('putting in');

function kept(): Going[] {
  try {
    const found: unknown = JSON.parse(localStorage.getItem(key()) ?? '[]');
    return Array.isArray(found) ? (found as Going[]) : [];
  } catch {
    return [];
  }
}

export const puttingIn = new PuttingIn({
  whose: pagePerson,
  shelf: {
    get: kept,
    put: all => {
      try {
        if (all.length > 0) localStorage.setItem(key(), JSON.stringify(all));
        else localStorage.removeItem(key());
      } catch {
        // A device that keeps nothing: it is on this page until it has gone.
      }
    },
  },
  async send(one) {
    let response: Response;
    try {
      response = await fetch(`/${doorUrl(one)}/contributions/${one.id}`, {
        method: 'PUT',
        headers: { 'Content-Type': 'application/json' },
        body: JSON.stringify(one.said),
      });
    } catch {
      throw Object.assign(new Error('away'), { status: 0, code: 'away' });
    }
    if (response.ok) {
      store.dispatch(api.util.invalidateTags([{ type: 'Discussion', id: one.releaseId }, 'Todo']));
      return;
    }
    const body = (await response.json().catch(() => null)) as Partial<Refusal> | null;
    throw Object.assign(new Error(body?.message ?? ''), {
      ...(refusalOf(body) ?? { code: 'invalid', message: body?.message ?? 'Ecoute did not take this.' }),
      status: response.status,
    });
  },
});

if (typeof window !== 'undefined') window.addEventListener('online', () => void puttingIn.go());

/** What somebody has put in and what is still on this device, of whatever discussion. */
export function usePuttingIn(): readonly Going[] {
  const { id } = useMe();
  useEffect(() => puttingIn.resume(), [id]);
  return useSyncExternalStore(puttingIn.subscribe, puttingIn.now);
}
