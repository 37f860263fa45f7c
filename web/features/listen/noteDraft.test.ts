import { untilHere, type NoteDraft } from './noteDraft';

const draft: NoteDraft = { id: 'n', fromMs: 4_000, toMs: null, words: 'here', revision: 0 };

describe('a note that is being written', () => {
  it('becomes a stretch up to where the recording is', () => {
    expect(untilHere(draft, 6_500.4)).toEqual({ ...draft, toMs: 6_500 });
    expect(untilHere({ ...draft, toMs: 9_000 }, 6_000)).toEqual({ ...draft, toMs: 6_000 });
  });

  it('grows backwards where the recording was wound back', () => {
    expect(untilHere(draft, 2_000)).toEqual({ ...draft, fromMs: 2_000, toMs: 4_000 });
    expect(untilHere({ ...draft, toMs: 9_000 }, 2_000)).toEqual({ ...draft, fromMs: 2_000, toMs: 9_000 });
  });

  it('is a moment again where nothing lies between', () => {
    expect(untilHere({ ...draft, toMs: 9_000 }, 4_000)).toEqual(draft);
  });
});
