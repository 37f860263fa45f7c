import type { AssessmentSummary, Item } from '@ecoute/contract/assessments';
import { blankContent, blankItem } from '@ecoute/contract/blank';
import { kindOf, searched, taken } from './bank';

const item = (id: string, over: Partial<Item> = {}) => blankItem(id, 'homework', over);
const assessment = (id: string, title: string, items: Item[]): AssessmentSummary => ({
  id,
  content: blankContent('homework', { title, items }),
  updatedAt: '',
  releases: 2,
});
const turn = { id: 't', recordingId: 'r', fromMs: 0, toMs: 9, gapMs: 1, says: 'pede o preço' };
const shelf = [
  assessment('a', 'No café', [
    item('1', { promptText: 'Pede um café.' }),
    item('2', { promptText: 'Escreve.', answerBy: 'text' }),
  ]),
  assessment('b', 'No mercado', [
    item('3', { isConversation: true, turns: [turn] }),
    item('4', { promptText: 'Lê a ementa.', answerBy: 'nothing', hintText: 'Começa pela sopa' }),
  ]),
];
const ids = (words: string, kind: Parameters<typeof searched>[2] = null, except = '') =>
  searched(shelf, words, kind, except).map(e => e.item.id);

describe('items of earlier assessments', () => {
  it('are found by words in prompt, hint, turns or title, with or without their marks', () => {
    expect(ids('')).toEqual(['1', '2', '3', '4']);
    expect(ids('cafe')).toEqual(['1', '2']);
    expect(ids('CAFÉ pede')).toEqual(['1']);
    expect(ids('preco')).toEqual(['3']);
    expect(ids('sopa mercado')).toEqual(['4']);
    expect(ids('sopa café')).toEqual([]);
  });

  it('are found by kind, and not in the assessment that is open', () => {
    expect(shelf.flatMap(a => a.content.items.map(kindOf))).toEqual([
      'spoken',
      'written',
      'conversation',
      'material',
    ]);
    expect(ids('', 'conversation')).toEqual(['3']);
    expect(ids('', null, 'b')).toEqual(['1', '2']);
    expect(searched(shelf, 'ementa', null, '')[0]).toMatchObject({
      number: 2,
      title: 'No mercado',
      releases: 2,
    });
  });

  it('are taken as copies of their own', () => {
    const copy = taken({ ...shelf[1]!.content.items[0]!, sectionId: 's' });
    expect(copy).toMatchObject({ sectionId: null, isConversation: true, turns: [{ recordingId: 'r' }] });
    expect([copy.id, copy.turns[0]!.id]).not.toEqual(expect.arrayContaining(['3']));
    expect(copy.turns[0]!.id).not.toBe('t');
  });
});
