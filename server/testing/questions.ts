import { AsyncLocalStorage } from 'node:async_hooks';
import type { Ecoute } from '../app';

/**
 * Notes what the database is asked on behalf of requests, and not what the server does by itself meanwhile.
 * @param ecoute before its first request
 * @returns what was asked for the request that came last, each with its values
 */
export function noteQuestions(ecoute: Ecoute): () => readonly string[] {
  const ofRequest = new AsyncLocalStorage<string[]>();
  let asked: string[] = [];
  const known = new WeakSet<object>();
  ecoute.pool.pool.on('acquire', acquired => {
    if (known.has(acquired)) return;
    known.add(acquired);
    const connection = acquired as unknown as Record<'query' | 'execute', (...args: unknown[]) => unknown>;
    for (const way of ['query', 'execute'] as const) {
      const through = connection[way].bind(connection);
      connection[way] = (what: unknown, values: unknown, ...more: unknown[]) => {
        const { sql, values: own } = what as { sql?: string; values?: unknown };
        ofRequest.getStore()?.push(`${sql ?? String(what)} ${JSON.stringify(own ?? values)}`);
        return through(what, values, ...more);
      };
    }
  });
  const { listener } = ecoute;
  ecoute.listener = (req, res) => ofRequest.run((asked = []), () => listener(req, res));
  return () => asked;
}
