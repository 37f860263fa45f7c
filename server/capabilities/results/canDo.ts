import { fromHundredths } from '@ecoute/core/scoring/points';
import { isNumbered } from '@ecoute/core/scoring/scheme';
import { countingTake } from '@ecoute/core/timing/itemRun';
import { isBack } from '@ecoute/core/timing/sittingState';
import { carriedBy } from '@ecoute/contract/assessment/points';
import type { CanDo, Shown } from '@ecoute/contract/results';
import { sameTag, type Tag } from '@ecoute/contract/tags';
import type { Pool } from '../../platform/database';
import { notFound } from '../../platform/trouble';
import { studentsFrom } from '../releases/standing';
import { releasesWith, timesOf } from '../releases/store';
import { standingsToCount } from '../releases/standings.store';
import type { Between } from './markbook';
import * as store from './store';
import { studentViews } from './students';
import { shownLevel } from './year';

/** So many releases are looked through. */
const MOST_RELEASES = 240;

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
  for (const release of tagged) {
    const { content } = release;
    const counting = studentsFrom(
      timesOf(release),
      rows.filter(r => r.releaseId === release.id),
      now,
    ).filter(s => s.counting?.handedInAt && !(release.namesHidden && !isBack(s.standing.state)));
    const sittingIds = counting.map(s => s.counting!.id);
    const takes = await store.lightTakesOf(pool, sittingIds);
    const marks = await store.marksWithWords(pool, sittingIds);
    const sums = new Map((await store.sumsOf(pool, [release.id])).map(s => [s.sittingId, s]));
    for (const s of counting)
      for (const item of content.items) {
        const itemTags = [...content.tags, ...item.tags];
        const mark = marks.find(m => m.sittingId === s.counting!.id && m.itemId === item.id);
        if (itemTags.length === 0 || !mark) continue;
        const take = countingTake<store.LightTake>(
          takes.filter(t => t.sittingId === s.counting!.id && t.itemId === item.id),
        );
        const whole = sums.get(s.counting!.id)?.level;
        const level =
          shownLevel(content, item, mark.choices) ??
          (content.scoring.kind === 'level' && whole != null
            ? { place: Number(whole), name: content.scoring.scale[Number(whole)]?.name ?? '' }
            : null);
        const one: Shown = {
          releaseId: release.id,
          sittingId: s.counting!.id,
          itemId: item.id,
          takeId: take?.id ?? null,
          durationMs: take?.durationMs ?? null,
          title: content.title,
          at: s.counting!.handedInAt!.toISOString(),
          scheme: content.scoring.kind,
          points: mark.pointsHundredths === null ? null : fromHundredths(mark.pointsHundredths),
          carries: isNumbered(content.scoring.kind) ? carriedBy(content, item) : 0,
          level: level?.name ?? null,
          levelPlace: level?.place ?? null,
        };
        for (const tag of itemTags) {
          const of = shown[places.get(s.studentId)!]![tags.findIndex(t => sameTag(t, tag))]!;
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
