/** What is said in a discussion, as its pages arrange it. */
import { threadsOf, type Said, type Thread } from '@ecoute/core/discussions/talk';
import type { AssessmentContent } from '@ecoute/contract/assessments';
import { topicsOf } from '@ecoute/contract/assessment/discussion';
import type { Contribution } from '@ecoute/contract/discussions';
import { t } from '../../base/i18n';
import type { InLine } from '../../parts/player/inTurn';
import { trackOf } from '../../parts/player/PlayButton';

/** A contribution with what core arranges it by. */
export type Spoken = Contribution & Said;

const spoken = (c: Contribution): Spoken => ({ ...c, authorId: c.author, atMs: Date.parse(c.at) });

/** Threads as they are heard; drafts stand by themselves. */
export function threadsIn(
  content: Pick<AssessmentContent, 'items'>,
  contributions: readonly Contribution[],
): Thread<Spoken>[] {
  return threadsOf(
    contributions.filter(c => c.state !== 'draft').map(spoken),
    topicsOf(content).map(i => i.id),
  );
}

/** What somebody is called: by name, by number where names do not show, or oneself. */
export function nameOf({
  authorName,
  number,
  isMine,
}: Pick<Contribution, 'authorName' | 'number' | 'isMine'>): string {
  if (isMine) return t('You');
  return number === null ? authorName : t('Voice {{number}}', { number });
}

/** The same where something is said to them. */
export const whomOf = (c: Pick<Contribution, 'authorName' | 'number' | 'isMine'>) =>
  c.isMine ? t('you') : nameOf(c);

/** Its sound can be heard now. */
export const isHearable = (c: Contribution) => c.voiceId !== null && c.voiceState === 'stored';

export function trackOfContribution(c: Contribution): InLine {
  return trackOf(c.voiceId!, nameOf(c), c.isTeacher ? 'teacher' : 'student', c.durationMs);
}

/**
 * What is played to hear on: each contribution in the order of threads, before a reply to a moment the stretch that it is
 * about.
 * @param isWanted which of them; those without a sound are left out
 * @returns `ms` is how long they are together, in ms, without the stretches
 */
export function lineOf(
  threads: readonly Thread<Spoken>[],
  isWanted: (c: Spoken) => boolean,
): { tracks: InLine[]; ids: string[]; ms: number } {
  const tracks: InLine[] = [];
  const ids: string[] = [];
  let ms = 0;
  for (const thread of threads) {
    const byId = new Map(thread.in.map(p => [p.said.id, p.said]));
    for (const { said } of thread.in) {
      if (!isHearable(said) || !isWanted(said)) continue;
      const parent = said.parentId ? byId.get(said.parentId) : undefined;
      const to = parent && whomOf(parent);
      if (parent && isHearable(parent) && said.fromMs !== null && said.toMs !== null)
        tracks.push({
          ...trackOfContribution(parent),
          title: t('{{who}}, the moment that is replied to', { who: nameOf(parent) }),
          stretch: { fromMs: said.fromMs, toMs: said.toMs },
        });
      tracks.push({
        ...trackOfContribution(said),
        title: to ? t('{{who}} to {{whom}}', { who: nameOf(said), whom: to }) : nameOf(said),
      });
      ids.push(said.id);
      ms += said.durationMs ?? 0;
    }
  }
  return { tracks, ids, ms };
}
