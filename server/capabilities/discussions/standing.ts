/** What a contribution changes for its author's sitting: it is handed in once all that is asked is given, or when it is due. */
import { givenBy, isEnough } from '@ecoute/core/discussions/talk';
import { planOf, talkOf } from '@ecoute/contract/assessment/discussion';
import type { Receipt } from '@ecoute/contract/sittings';
import type { Queryable } from '../../platform/database';
import { refreshFacts } from '../sittings/facts';
import { noteInAccount, situationOf, tellTeachers } from '../sittings/situation';
import { handIn } from '../sittings/store';
import * as store from './store';
import { saidIn } from './view';

/** Counts what was said in a sitting, and hands it in where it is time. Its row is locked first. */
export async function settleSitting(db: Queryable, sittingId: string): Promise<void> {
  const { sitting, release, times } = await situationOf(db, sittingId, true);
  await refreshFacts(db, [sittingId]);
  const plan = planOf(release.content);
  const talk = talkOf(release.content);
  if (!plan || !talk || sitting.handedInAt) return;
  const own = await store.contributionsIn(db, [sittingId]);
  const said = saidIn(own);
  if (said.length === 0) return;
  const parents = await store.contributionsWith(
    db,
    own.flatMap(r => r.parentId ?? []),
  );
  const given = givenBy(
    [...said, ...saidIn(parents).filter(p => !said.some(s => s.id === p.id))],
    sitting.studentId,
  );
  const lastMs = Math.max(...said.map(s => s.atMs));
  const isDone = isEnough(given, plan);
  if (!isDone && Date.now() < times.dueAtMs) return;
  const at = new Date(isDone ? lastMs : Math.max(lastMs, times.dueAtMs));
  const spoken = own.findLast(r => r.voiceId !== null && said.some(s => s.id === r.id)) ?? null;
  const receipt: Receipt = {
    sittingId,
    handedInAt: at.toISOString(),
    late: at.getTime() > times.dueAtMs,
    byItself: true,
    lines: [
      {
        itemId: talk.id,
        takeId: spoken?.id ?? null,
        written: said.length > 0 && spoken === null,
        passed: false,
        studied: false,
        medium: spoken?.medium ?? null,
        fileName: null,
        durationMs: given.spokenMs,
        sizeBytes: null,
        sha256: null,
      },
    ],
  };
  await handIn(db, sittingId, at, receipt);
  await noteInAccount(db, sittingId, 'handedIn');
  await refreshFacts(db, [sittingId]);
  await tellTeachers(db, sittingId);
}
