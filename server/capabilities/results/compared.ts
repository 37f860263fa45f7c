import { fromHundredths } from '@ecoute/core/scoring/points';
import { isNumbered, reachable } from '@ecoute/core/scoring/scheme';
import { signedRanks } from '@ecoute/core/statistics/signedRanks';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack } from '@ecoute/core/timing/sittingState';
import { carriedPoints } from '@ecoute/contract/assessment/points';
import type { Compared, ComparedSide, ComparedSitting } from '@ecoute/contract/results';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { studentsFrom, type StudentStanding } from '../releases/standing';
import { releasesWith, timesOf, type ReleaseRow } from '../releases/store';
import { standings } from '../releases/standings.store';
import * as store from './store';

/**
 * The same people measured twice: two releases to one class, by the same assessment or by two whose items stand for each
 * other in their order. Guests count as whom they were assigned to.
 * @throws Trouble notFound where one of the two is not the class's
 */
export async function comparedOf(
  pool: Pool,
  classId: string,
  beforeId: string,
  afterId: string,
): Promise<Compared> {
  const releases = await releasesWith(pool, [beforeId, afterId]);
  const [before, after] = [releases.get(beforeId), releases.get(afterId)];
  if (!before || !after || before.classId !== classId || after.classId !== classId) throw notFound();
  const [first, second] = [await sideOf(pool, before), await sideOf(pool, after)];
  const both = first.sat.flatMap(b => {
    const a = second.sat.find(x => x.studentId === b.studentId);
    return a
      ? [{ id: b.studentId, displayName: b.displayName, before: first.view(b), after: second.view(a) }]
      : [];
  });
  const names = (one: typeof first, other: typeof first) =>
    one.sat.filter(s => !other.sat.some(x => x.studentId === s.studentId)).map(s => s.displayName);
  return {
    classId,
    before: first.side,
    after: second.side,
    pairs: pairsOf(first.side, second.side),
    students: both,
    onlyBefore: names(first, second),
    onlyAfter: names(second, first),
    shift: shiftOf(first.side, second.side, both),
  };
}

/** The same item stands for itself; else those at the same place in their order. */
function pairsOf(before: ComparedSide, after: ComparedSide): Compared['pairs'] {
  const same = before.items.filter(b => after.items.some(a => a.id === b.id));
  if (same.length > 0) return same.map(b => ({ before: b.id, after: b.id }));
  return before.items.flatMap((b, i) => (after.items[i] ? [{ before: b.id, after: after.items[i].id }] : []));
}

function shiftOf(before: ComparedSide, after: ComparedSide, both: Compared['students']): Compared['shift'] {
  const sameScale = before.scale.length > 0 && before.scale.join('\n') === after.scale.join('\n');
  if (before.scheme === 'level' && after.scheme === 'level') {
    if (!sameScale) return null;
    const pairs = both.flatMap(s =>
      s.before.level !== null && s.after.level !== null
        ? [{ before: s.before.level, after: s.after.level }]
        : [],
    );
    return { ...signedRanks(pairs), by: 'levels' };
  }
  if (!before.carries || !after.carries) return null;
  const share = ({ points, isMarked }: ComparedSitting, carries: number) =>
    isMarked && points !== null ? points / carries : null;
  const pairs = both.flatMap(s => {
    const [b, a] = [share(s.before, before.carries!), share(s.after, after.carries!)];
    return b !== null && a !== null ? [{ before: b, after: a }] : [];
  });
  return { ...signedRanks(pairs), by: 'points' };
}

async function sideOf(pool: Pool, release: ReleaseRow) {
  const { content } = release;
  const numbered = isNumbered(content.scoring.kind);
  const carries = reachable(content.scoring.kind, carriedPoints(content));
  const sat = studentsFrom(timesOf(release), await standings(pool, [release.id]), Date.now()).filter(
    // Who is heard without a name is not held against themselves by name.
    s => s.counting?.handedInAt && !(release.namesHidden && !isBack(s.standing.state)),
  );
  const takes = await store.takesOfRelease(pool, release.id);
  const counting = new Map<string, store.LightTake>();
  const byAnswer = new Map<string, store.LightTake[]>();
  for (const take of takes) {
    const key = `${take.sittingId} ${take.itemId}`;
    const own = byAnswer.get(key);
    if (own) own.push(take);
    else byAnswer.set(key, [take]);
  }
  for (const [key, own] of byAnswer) {
    const take = countingTake<store.LightTake>(own);
    if (take) counting.set(key, take);
  }
  const figures = await store.figuresOf(
    pool,
    [...counting.values()].map(t => t.id),
  );
  const sums = new Map((await store.sumsOf(pool, [release.id])).map(s => [s.sittingId, s]));
  const items = content.items.filter(i => i.answerBy !== 'nothing');
  const side: ComparedSide = {
    title: content.title,
    scheme: content.scoring.kind,
    scale: content.scoring.kind === 'level' ? content.scoring.scale.map(l => l.name) : [],
    carries: carries === null || carries === 0 ? null : fromHundredths(carries),
    items: items.map(i => ({ id: i.id, number: content.items.indexOf(i) + 1, prompt: i.promptText })),
  };
  return {
    side,
    sat,
    view({ counting: own, standing }: StudentStanding): ComparedSitting {
      const sum = sums.get(own!.id);
      const isMarked = standing.state === 'marked' || isBack(standing.state);
      return {
        level: content.scoring.kind === 'level' && sum?.level != null ? Number(sum.level) : null,
        points: numbered && isMarked ? fromHundredths(Number(sum?.points ?? 0)) : null,
        isMarked,
        takes: items.flatMap(i => {
          const take = counting.get(`${own!.id} ${i.id}`);
          return take
            ? [
                {
                  itemId: i.id,
                  takeId: take.id,
                  durationMs: take.durationMs,
                  figures: figures.get(take.id) ?? {},
                },
              ]
            : [];
        }),
      };
    },
  };
}
