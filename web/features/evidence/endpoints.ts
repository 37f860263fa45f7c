import { useEffect, useState } from 'react';
import type { ReleaseEvidence, TakeEvidence } from '@ecoute/contract/evidence';
import { api } from '../../base/api';

/** A take is mostly measured within a second or two; what takes longer is asked about less often. */
const ASK_MS = [700, 4_000] as const;
const PATIENCE_MS = 10_000;

const evidenceApi = api.injectEndpoints({
  endpoints: build => ({
    takeEvidence: build.query<TakeEvidence, { takeId: string; lengthMs: number | null }>({
      query: ({ takeId }) => `api/takes/${takeId}/evidence`,
      providesTags: ['Evidence'],
    }),
    releaseEvidence: build.query<ReleaseEvidence, string>({
      query: id => `api/releases/${id}/evidence`,
      providesTags: (_r, _e, id) => [{ type: 'Evidence', id }],
    }),
  }),
});

export const { useReleaseEvidenceQuery } = evidenceApi;
const { useTakeEvidenceQuery } = evidenceApi;

/**
 * What is measured of a take; asked for until it is there. Null while nothing is known, or may not be seen.
 * @param lengthMs of what is heard of it: a take that was cut is measured anew
 */
export function useEvidence(takeId: string | null, lengthMs: number | null): TakeEvidence | null {
  const [isWaiting, setWaiting] = useState(true);
  const [isPatient, setPatient] = useState(false);
  const { currentData, error } = useTakeEvidenceQuery(
    { takeId: takeId ?? '', lengthMs },
    { skip: takeId === null, pollingInterval: isWaiting ? ASK_MS[isPatient ? 1 : 0] : 0 },
  );
  const state = currentData?.state;
  // Refused is refused; only a server that cannot be reached is asked again.
  const isRefused = error !== undefined && 'status' in error && Number(error.status) >= 400;
  useEffect(
    () => setWaiting(!isRefused && (state === undefined || state === 'measuring')),
    [state, isRefused],
  );
  useEffect(() => {
    setPatient(false);
    const timer = setTimeout(() => setPatient(true), PATIENCE_MS);
    return () => clearTimeout(timer);
  }, [takeId, lengthMs]);
  return takeId === null ? null : (currentData ?? null);
}
