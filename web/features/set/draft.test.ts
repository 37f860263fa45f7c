import type { AssessmentContent } from '@ecoute/contract/assessments';
import { blankContent, blankStimulus } from '@ecoute/contract/blank';
import { sittingDifferences } from '@ecoute/core/timing/startingPoints';
import { check } from '@ecoute/contract/validation';
import { AssessmentContent as Shape } from '@ecoute/contract/assessments';
import {
  duplicated,
  moved,
  newItem,
  nextItem,
  unlike,
  untouched,
  withAnother,
  withItem,
  withoutItem,
  withoutSection,
  withSectionAt,
  withSetting,
  withStartingPoint,
} from './draft';

const content = (): AssessmentContent =>
  blankContent('homework', { title: 'T', items: [newItem('homework'), newItem('homework')] });

describe('a draft', () => {
  it('begins with items that stand as they are', () => {
    expect(check(Shape, content()).fields).toBeNull();
  });

  it('changes one item and leaves the others alone', () => {
    const before = content();
    const [first, second] = before.items;
    const after = withItem(before, first!.id, { points: 9 });
    expect(after.items[0]).toEqual({ ...first, points: 9 });
    expect(after.items[1]).toBe(second);
    expect(before.items[0]!.points).toBe(5);
  });

  it('puts a copy right after its original, with an identity of its own', () => {
    const before = content();
    const after = duplicated(before, before.items[0]!.id);
    expect(after.items).toHaveLength(3);
    expect(after.items[1]).toEqual({ ...before.items[0], id: after.items[1]!.id, wordsBefore: null });
    expect(new Set(after.items.map(i => i.id)).size).toBe(3);
  });

  it('adds an item like the one before it', () => {
    const before = withItem(content(), content().items[0]!.id, {});
    const last = before.items.at(-1)!;
    const { content: after, id } = withAnother(
      withItem(before, last.id, { takesAllowed: 7, points: 3, promptText: 'x' }),
    );
    expect(after.items.at(-1)).toMatchObject({ id, takesAllowed: 7, points: 3, promptText: '' });
  });

  it('takes every policy of another starting point', () => {
    const before = withItem(content(), '', {});
    const own = withItem(before, before.items[0]!.id, { takesAllowed: 4 });
    const exam = withStartingPoint(own, 'exam');
    expect(exam.items.every(i => i.takesAllowed === 1 && i.startsBy === 'itself')).toBe(true);
    // Of the sitting too: what is made at home is no exam, and is not taken back from one.
    expect([own.mayBring, own.mayWithdraw]).toEqual([true, true]);
    const opened = { ...own, modelOpens: 'atOnce' as const };
    for (const point of ['exam', 'placement'] as const) {
      const strict = withStartingPoint(opened, point);
      expect([strict.mayBring, strict.mayWithdraw, strict.modelOpens]).toEqual([false, false, 'afterReturn']);
      expect(sittingDifferences(strict, point)).toEqual([]);
    }
    expect(sittingDifferences({ ...exam, mayBring: true }, 'exam')).toEqual(['mayBring']);
  });

  it('begins the next item as the last one that is answered, never as material by accident', () => {
    const before = content();
    const [first, second] = before.items;
    const taught = withItem(before, first!.id, { answerBy: 'video', answerLimitMs: 60_000, points: 7 });
    const material = withItem(taught, second!.id, { answerBy: 'nothing', sectionId: 's' });
    expect(nextItem(material)).toMatchObject({
      answerBy: 'video',
      answerLimitMs: 60_000,
      points: 7,
      sectionId: 's',
    });
    expect(nextItem({ ...before, items: [] })).toMatchObject({ answerBy: 'audio', sectionId: null });
  });

  it('sets several at once; a conversation keeps its length and its way of answering', () => {
    const before = withItem(content(), content().items[0]!.id, {});
    const [first, second] = before.items;
    const mixed = withItem(before, second!.id, { isConversation: true, answerLimitMs: 99_000 });
    const setting = { answerLimitMs: 10_000, takesAllowed: 1, answerBy: 'video' as const };
    const both = withSetting(mixed, new Set([first!.id, second!.id]), setting);
    expect(both.items.map(i => [i.answerLimitMs, i.takesAllowed, i.answerBy])).toEqual([
      [10_000, 1, 'video'],
      [99_000, 1, 'audio'],
    ]);
    expect(withSetting(mixed, new Set([first!.id]), setting).items[1]).toBe(mixed.items[1]);
  });

  it('shows what is measured at once in practice, and never automatically under exam conditions', () => {
    const homework = blankContent('homework', { evidenceOpens: 'afterReturn' });
    const practice = withStartingPoint(homework, 'practice');
    expect(practice.evidenceOpens).toBe('atOnce');
    expect(withStartingPoint(practice, 'exam').evidenceOpens).toBe('never');
    // What the teacher chose for after the feedback is no secret of the sitting, and stays.
    expect(withStartingPoint(homework, 'exam').evidenceOpens).toBe('afterReturn');
  });

  describe('sections', () => {
    const four = () => {
      const c = blankContent('homework', { items: [1, 2, 3, 4].map(() => newItem('homework')) });
      return { c, ids: c.items.map(i => i.id) };
    };
    const shape = (c: AssessmentContent) =>
      c.items
        .map(i => (i.sectionId === null ? '-' : c.sections.findIndex(s => s.id === i.sectionId)))
        .join('');

    it('begin at an item and reach to the next section', () => {
      const { c, ids } = four();
      const one = withSectionAt(c, ids[1]!);
      expect(shape(one)).toBe('-000');
      expect(shape(withSectionAt(one, ids[2]!))).toBe('-011');
    });

    it('take in what is put among them, and go when they are empty', () => {
      const { c, ids } = four();
      const two = withSectionAt(c, ids[3]!);
      expect(shape(two)).toBe('---0');
      const joined = moved(two, ids[0]!, ids[3]!);
      expect(shape(joined)).toBe('--00');
      const left = withoutItem(withoutItem(joined, ids[0]!), ids[3]!);
      expect(left.sections).toEqual([]);
      expect(moved(c, ids[0]!, ids[0]!)).toBe(c);
    });

    it('are dissolved into what stands before them', () => {
      const { c, ids } = four();
      const before = withSectionAt(c, ids[2]!);
      const id = before.sections[0]!.id;
      const named = { ...before, sections: [{ id, title: 'Aloud', shuffled: true }] };
      const gone = withoutSection(named, id);
      expect([shape(gone), gone.sections]).toEqual(['----', []]);
    });
  });

  it('knows the one item that nothing was put into yet', () => {
    const [item] = content().items;
    const alone = (over: object) =>
      untouched({ ...content(), items: [{ ...newItem('homework'), id: 'only', ...over }] });
    expect(alone({ promptText: '' })).toBe('only');
    expect(alone({ promptText: '', promptRecordingId: 'r' })).toBeNull();
    expect(alone({ promptText: '', hintText: 'h' })).toBeNull();
    expect(alone({ promptText: '', stimuli: [blankStimulus('s', 'link')] })).toBeNull();
    expect(untouched({ ...content(), items: [item!, newItem('homework')] })).toBeNull();
  });

  it('copies an item with things to look at that are its own', () => {
    const item = {
      ...newItem('homework'),
      stimuli: [blankStimulus('s', 'passage', { text: 'Read me.' })],
      sectionId: 'x',
    };
    const [, copy] = duplicated({ ...content(), items: [item] }, item.id).items;
    expect(copy).toMatchObject({ sectionId: 'x', stimuli: [{ text: 'Read me.' }] });
    expect([copy!.id, copy!.stimuli[0]!.id]).not.toEqual([item.id, 's']);
  });

  it('says what differs from what was stored meanwhile', () => {
    const here = content();
    const [first, second] = here.items;
    expect(unlike(here, { ...here, closingWords: 'x', directions: 'y' })).toEqual([
      'The directions.',
      'What holds for the whole sitting.',
    ]);
    expect(unlike(here, { ...here, tags: [{ code: '', words: 'w' }] })).toEqual([
      'What holds for the whole sitting.',
    ]);
    expect(unlike(here, { ...here, closingWords: 'x' })).toEqual(['What holds for the whole sitting.']);
    const stored = {
      ...withItem(here, first!.id, { promptText: 'Otherwise' }),
      title: 'U',
      directions: 'd',
    };
    expect(unlike(here, stored)).toEqual([
      'The title: here “T”, there “U”.',
      'The directions.',
      'Changed: item 1.',
    ]);
    expect(unlike(here, { ...here, items: [second!, first!] })).toEqual(['The order of the items.']);
    const other = newItem('homework');
    expect(unlike(here, { ...here, items: [first!, { ...other, promptText: 'New' }] })).toEqual([
      'Only here: item 2.',
      'Only there: item 2 (“New”).',
    ]);
  });
});
