import type { AssessmentSummary, Item } from '@ecoute/contract/assessments';
import { blankContent, blankItem, blankStimulus } from '@ecoute/contract/blank';
import { ANYTHING, entriesOf, kindOf, languagesOf, searched, taken, type Search } from './itemSearch';

const item = (id: string, over: Partial<Item> = {}) => blankItem(id, 'homework', over);
const assessment = (id: string, title: string, items: Item[]): AssessmentSummary => ({
  id,
  content: blankContent('homework', { title, items }),
  updatedAt: '',
  releases: 2,
  savedBy: null,
  isTemplate: false,
  away: null,
  awayAt: null,
  following: 0,
  ownerId: 'o',
  ownerName: 'Inês',
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
const find = (search: Partial<Search>, except = '') =>
  searched(entriesOf(shelf, except), { ...ANYTHING, ...search });
const ids = (words: string, kind: Search['kind'] = null, except = '') =>
  find({ words, kind }, except).map(e => e.item.id);

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
    expect(find({ words: 'ementa' })[0]).toMatchObject({
      number: 2,
      title: 'No mercado',
      releases: 2,
    });
  });

  it('are found by tag and by the language they are marked with', () => {
    const tagged = item('5', {
      tags: [{ code: 'S-1', words: 'I can ask the way.' }],
      stimuli: [blankStimulus('p', 'passage', { language: 'fr', text: 'La marée monte.' })],
    });
    const entries = entriesOf([{ ...shelf[0]!, content: blankContent('homework', { items: [tagged] }) }], '');
    const found = (search: Partial<Search>) => searched(entries, { ...ANYTHING, ...search }).length;
    expect(languagesOf(tagged)).toEqual(['fr']);
    expect([found({ tag: 'S-1 I can ask the way.' }), found({ tag: 'S-2' })]).toEqual([1, 0]);
    expect([found({ language: 'fr' }), found({ language: 'pt' })]).toEqual([1, 0]);
    expect([found({ words: 'maree' }), found({ words: 'ask way' })]).toEqual([1, 1]);
  });

  it('say whose they are where they are a colleague’s', () => {
    const [own] = entriesOf(shelf, '');
    const [other] = entriesOf([{ ...shelf[0]!, departmentName: 'Languages' }], '');
    expect([own!.by, other!.by]).toEqual([null, 'Inês']);
  });

  it('are taken as copies of their own', () => {
    const copy = taken({ ...shelf[1]!.content.items[0]!, sectionId: 's' });
    expect(copy).toMatchObject({ sectionId: null, isConversation: true, turns: [{ recordingId: 'r' }] });
    expect([copy.id, copy.turns[0]!.id]).not.toEqual(expect.arrayContaining(['3']));
    expect(copy.turns[0]!.id).not.toBe('t');
  });
});
