import type { Gradebook } from './gradebook';
import { changesBetween, recordsOf, resultWords, written } from './gradebookService';

const at = new Date('2026-10-05T18:00:00Z');
const book = (over: Partial<Gradebook> = {}): Gradebook => ({
  classId: 'class-7',
  schoolId: 'school',
  periodId: 'term',
  categories: [{ id: 'homework', title: 'Homework' }],
  lineItems: [
    {
      id: 'li',
      title: 'A morning',
      description: '',
      assignedAt: at,
      dueAt: at,
      categoryId: 'homework',
      most: 10,
    },
  ],
  results: [
    {
      id: 'whatever',
      lineItemId: 'li',
      studentId: 's1',
      status: 'fully graded',
      score: 7.5,
      words: '',
      at,
      isLate: true,
    },
  ],
  ...over,
});
const result = (over: Partial<Gradebook['results'][number]>) =>
  book({ results: [{ ...book().results[0]!, ...over }] });
const acts = (now: Gradebook, then: Gradebook) =>
  changesBetween(recordsOf(now), recordsOf(then)).map(c => `${c.act} ${c.kind} ${c.sourcedId}`);

describe('records of the gradebook service', () => {
  it('name what they belong to, and say nothing that is not there', () => {
    const [category, lineItem, one] = recordsOf(book());
    expect(category!.body).toEqual({ sourcedId: 'ecoute-homework', status: 'active', title: 'Homework' });
    expect(lineItem!.body).toEqual({
      sourcedId: 'li',
      status: 'active',
      title: 'A morning',
      assignDate: '2026-10-05T18:00:00.000Z',
      dueDate: '2026-10-05T18:00:00.000Z',
      class: { sourcedId: 'class-7', type: 'class' },
      category: { sourcedId: 'ecoute-homework', type: 'category' },
      resultValueMin: 0,
      resultValueMax: 10,
    });
    expect(one!.body).toEqual({
      sourcedId: 'li-s1',
      status: 'active',
      lineItem: { sourcedId: 'li', type: 'lineItem' },
      student: { sourcedId: 's1', type: 'user' },
      scoreStatus: 'fully graded',
      score: 7.5,
      scoreDate: '2026-10-05',
      inProgress: 'false',
      incomplete: 'false',
      late: 'true',
      missing: 'false',
    });
  });

  it('without numbers have no number, not even zero; a score of zero is one', () => {
    const words = recordsOf(
      book({
        lineItems: [{ ...book().lineItems[0]!, most: null }],
        results: [{ ...book().results[0]!, score: null, words: 'B1' }],
      }),
    );
    expect(Object.keys(words[1]!.body)).not.toContain('resultValueMax');
    expect(words[2]!.body).toMatchObject({ textScore: 'B1' });
    expect(Object.keys(words[2]!.body)).not.toContain('score');
    expect(recordsOf(result({ score: 0 }))[2]!.body.score).toBe(0);
  });

  it('are sent once: what did not change is not sent again, in whatever order it was kept', () => {
    expect(acts(book(), book())).toEqual([]);
    const kept = recordsOf(book()).map(r => ({
      ...r,
      body: JSON.parse(JSON.stringify(Object.fromEntries(Object.entries(r.body).reverse()))) as typeof r.body,
    }));
    expect(changesBetween(recordsOf(book()), kept)).toEqual([]);
  });

  it('are put from what is named to what names it, and removed the other way round', () => {
    const nothing = book({ categories: [], lineItems: [], results: [] });
    expect(acts(book(), nothing)).toEqual([
      'put category ecoute-homework',
      'put lineItem li',
      'put result li-s1',
    ]);
    // A category may be another class's too.
    expect(acts(nothing, book())).toEqual(['remove result li-s1', 'remove lineItem li']);
  });

  it('say what was before: a changed score, a result that is taken back, one that is excused', () => {
    const [change] = changesBetween(recordsOf(result({ score: 9 })), recordsOf(book()));
    expect([resultWords(change!.before), resultWords(change!.body)]).toEqual(['7.5', '9']);
    const [gone] = changesBetween(recordsOf(book({ results: [] })), recordsOf(book()));
    expect([gone!.act, resultWords(gone!.before), resultWords(gone!.body)]).toEqual(['remove', '7.5', '']);
    const excused = recordsOf(result({ status: 'exempt', score: null, at: null }))[2]!;
    expect([resultWords(excused.body), 'scoreDate' in excused.body]).toEqual(['excused', false]);
    const missing = recordsOf(result({ status: 'not submitted', score: null, at: null }))[2]!;
    expect([resultWords(missing.body), missing.body.missing]).toEqual(['missing', 'true']);
    const heard = recordsOf(result({ score: null }))[2]!;
    expect(resultWords(heard.body)).toBe('feedback given');
  });

  it('keep one id for a student and an assessment, whichever sitting counts', () => {
    expect(acts(result({ id: 'another sitting' }), book())).toEqual([]);
  });

  it('are written the same for the same fields', () => {
    expect(written({ a: 1, b: { sourcedId: 'x', type: 'y' } })).toBe(
      written({ b: { type: 'y', sourcedId: 'x' } as never, a: 1 }),
    );
  });
});
