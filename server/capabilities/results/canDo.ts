import { fromHundredths } from '@ecoute/core/scoring/points';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack } from '@ecoute/core/timing/sittingState';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { Item } from '@ecoute/contract/assessments';
import type { CanDo, Shown } from '@ecoute/contract/results';
import { sameTag, type Tag } from '@ecoute/contract/tags';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { studentsFrom } from '../releases/standing';
import { releasesWith, timesOf, type ReleaseRow } from '../releases/store';
import { grouped } from '../reading/views';
import { standingsToCount } from '../releases/standings.store';
import type { Between } from './markbook';
import * as store from './store';
import { studentViews } from './students';
import { shownLevel } from './year';

/** So many releases are looked through. */
const MOST_RELEASES = 240;
/** … and so many are asked about together. */
const AT_ONCE = 60;

/** What the recordings of a class show by can-do statement: finished marks of answers that count, by name where that may be. */
export async function canDoOf(pool: Pool, classId: string, between: Between): Promise<CanDo> {
  const room = await store.findClass(pool, classId);
  if (!room) throw notFound();
  const found = await store.releasesOfClass(pool, classId, between, MOST_RELEASES);
  const releases = await releasesWith(pool, found);
  const tagged = found
    .toReversed()
    .map(id => releases.get(id)!)
    .filter(r => r.content.tags.length > 0 || r.content.items.some(i => i.tags.length > 0));
  const ids = tagged.map(r => r.id);
  const tags: Tag[] = [];
  for (const { content } of tagged)
    for (const tag of [...content.tags, ...content.items.flatMap(i => i.tags)])
      if (!tags.some(t => sameTag(t, tag))) tags.push(tag);
  tags.sort((a, b) => (a.code + a.words < b.code + b.words ? -1 : 1));
  const rows = await standingsToCount(pool, ids);
  const students = await store.studentsOf(
    pool,
    classId,
    rows.map(r => r.studentId),
  );
  const places = new Map(students.map((s, i) => [s.id, i]));
  const shown = students.map(() => tags.map((): Shown[] => []));
  const now = Date.now();
  for (let from = 0; from < tagged.length; from += AT_ONCE) {
    const part = tagged.slice(from, from + AT_ONCE);
    const sat = part.map(release =>
      studentsFrom(
        timesOf(release),
        rows.filter(r => r.releaseId === release.id),
        now,
      ).filter(s => s.counting?.handedInAt && !(release.namesHidden && !isBack(s.standing.state))),
    );
    const sittingIds = sat.flatMap(all => all.map(s => s.counting!.id));
    const at = ({ sittingId, itemId }: { sittingId: string; itemId: string }) => `${sittingId} ${itemId}`;
    const takes = grouped(await store.lightTakesOf(pool, sittingIds), at);
    const marks = new Map((await store.marksWithWords(pool, sittingIds)).map(m => [at(m), m]));
    const sums = new Map(
      (
        await store.sumsOf(
          pool,
          part.map(r => r.id),
        )
      ).map(s => [s.sittingId, s]),
    );
    for (const [n, release] of part.entries())
      for (const { counting, studentId } of sat[n]!)
        for (const item of release.content.items) {
          const itemTags = [...release.content.tags, ...item.tags];
          const answer = at({ sittingId: counting!.id, itemId: item.id });
          const mark = marks.get(answer);
          if (itemTags.length === 0 || !mark) continue;
          const take = countingTake<store.LightTake>(takes.get(answer) ?? []);
          const one = shownBy(release, item, mark, {
            take,
            level: sums.get(counting!.id)?.level ?? null,
            at: counting!.handedInAt!,
          });
          for (const tag of itemTags) {
            const of = shown[places.get(studentId)!]![tags.findIndex(t => sameTag(t, tag))]!;
            // Tagged as a whole and by itself: once.
            if (!of.includes(one)) of.push(one);
          }
        }
  }
  return {
    classId,
    className: room.name,
    tags,
    students: studentViews(students, await store.groupsOf(pool, classId)),
    shown,
  };
}

/** What one answer shows: its own level before the one of the whole, or its points. */
function shownBy(
  { id, content }: ReleaseRow,
  item: Item,
  mark: store.LightMark,
  { take, level: whole, at }: { take: store.LightTake | null; level: number | null; at: Date },
): Shown {
  const isLevelled = content.scoring.kind === 'level';
  const level =
    shownLevel(content, item, mark.choices) ??
    (isLevelled && whole !== null
      ? { place: Number(whole), name: content.scoring.scale[Number(whole)]?.name ?? '' }
      : null);
  return {
    releaseId: id,
    sittingId: mark.sittingId,
    itemId: item.id,
    takeId: take?.id ?? null,
    durationMs: take?.durationMs ?? null,
    title: content.title,
    at: at.toISOString(),
    scheme: content.scoring.kind,
    points: mark.pointsHundredths === null ? null : fromHundredths(mark.pointsHundredths),
    carries: isNumbered(content.scoring.kind) ? carriedBy(content, item) : 0,
    level: level?.name ?? null,
    levelPlace: level?.place ?? null,
  };
}
