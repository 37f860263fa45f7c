/** What students said in a discussion, each with what it replies to. */
import { isSilent } from '@ecoute/core/audio/peaks';
import { contributeByMs, givenBy } from '@ecoute/core/discussions/talk';
import { planOf } from '@ecoute/contract/assessment/discussion';
import type { SaidInTalk, TalkInLane } from '@ecoute/contract/marking';
import type { Note } from '@ecoute/contract/notes';
import type { Queryable } from '../../platform/database';
import { contributionsIn, contributionsWith, type ContributionRow } from '../discussions/store';
import { isWhole, saidIn, successors } from '../discussions/view';
import type { ReleaseRow } from '../releases/store';
import type { HeardRow } from '../recordings/store';
import type { TakeRow } from '../sittings/answers.store';
import { grouped, placedOf } from './views';

/**
 * The talk of each of some sittings, by sitting; those in which nothing was said are left out.
 * @param notes by take
 * @param heard the takes of these sittings
 * @param nameOf what the author of a contribution is called for whoever reads it
 * @returns null for a release that is no discussion
 */
export async function talksOf(
  db: Queryable,
  release: ReleaseRow,
  sat: readonly { sittingId: string; studentId: string; feedbackAt: Date | null }[],
  {
    notes,
    takes: heard,
    nameOf,
  }: {
    notes: ReadonlyMap<string, Note[]>;
    takes: readonly TakeRow<HeardRow>[];
    nameOf: (row: ContributionRow) => string;
  },
): Promise<Map<string, TalkInLane> | null> {
  const plan = planOf(release.content);
  if (!plan) return null;
  const ids = sat.map(s => s.sittingId);
  const rows = await contributionsIn(db, ids);
  const known = new Map(rows.map(r => [r.id, r]));
  const strangers = rows.flatMap(r => (r.parentId && !known.has(r.parentId) ? [r.parentId] : []));
  for (const row of await contributionsWith(db, strangers)) known.set(row.id, row);
  const all = [...known.values()];
  const now = successors(all);
  const said = saidIn(all);
  const takes = new Map(heard.map(t => [t.id, t]));
  const bySitting = grouped(rows, r => r.sittingId!);
  const dueAtMs = release.dueAt.getTime();
  const contributeBy = contributeByMs(dueAtMs, plan.contributeDaysBefore);
  const view = (row: ContributionRow, feedbackAt: Date | null): SaidInTalk => {
    const take = takes.get(row.id) ?? null;
    const parent = row.parentId ? known.get(now(row.parentId)) : undefined;
    return {
      id: row.id,
      takeId: row.voiceId,
      durationMs: row.durationMs,
      medium: row.medium,
      silent:
        take?.recording.medium === 'sound' &&
        take.recording.peakDbfs !== null &&
        isSilent(take.recording.peakDbfs),
      placed: placedOf(take),
      title: row.title,
      words: row.words,
      pictureId: row.pictureId,
      at: row.putInAt!.toISOString(),
      late: row.putInAt!.getTime() > (row.parentId ? dueAtMs : contributeBy),
      afterFeedback: feedbackAt !== null && row.putInAt! > feedbackAt,
      topicId: row.topicId,
      waits: row.letInAt === null,
      hiddenFor: row.hiddenAt ? row.hiddenFor : null,
      to: parent
        ? {
            authorName: nameOf(parent),
            takeId: parent.takenBackAt || parent.hiddenAt ? null : parent.voiceId,
            durationMs: parent.durationMs,
            words: parent.takenBackAt || parent.hiddenAt ? '' : parent.words,
            fromMs: row.fromMs,
            toMs: row.toMs,
          }
        : null,
      notes: row.voiceId ? (notes.get(row.voiceId) ?? []) : [],
    };
  };
  const talks = new Map<string, TalkInLane>();
  for (const { sittingId, studentId, feedbackAt } of sat) {
    const own = (bySitting.get(sittingId) ?? []).filter(r => !r.takenBackAt && !r.replacedAt && isWhole(r));
    if (own.length === 0) continue;
    talks.set(sittingId, {
      given: givenBy(said, studentId),
      contributions: own.map(r => view(r, feedbackAt)),
    });
  }
  return talks;
}

/** What was only written in a talk, one after the other; null where nothing was. */
export function writtenInTalk({ contributions }: TalkInLane): string | null {
  const words = contributions.filter(c => c.takeId === null).map(c => c.words);
  return words.length > 0 ? words.join('\n\n') : null;
}
