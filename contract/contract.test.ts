import { AssessmentContent, SaveAssessment, type Item } from './assessments';
import { carriedBy } from './assessment/points';
import { forStudents, withoutModels } from './assessment/forStudents';
import { releaseProblems } from './assessment/problems';
import { filesOf } from './assessment/files';
import { asMeasured } from './assessment/asMeasured';
import { blankContent, blankItem, blankMusic, blankStimulus, completed } from './blank';
import { LIMITS } from './limits';
import type { RichText, Stimulus, StimulusKind } from './stimuli';
import { SaveMark } from './marking';
import { FirstTeacher, SignIn } from './people';
import { NewTake } from './recordings';
import { HoldSitting, NewEvents, TakeWords } from './sittings';
import { check } from './validation';

const id = '7f1c1a4e-43a5-4b6e-9d0a-0c9b7c1f2e11';
const item = (over: Partial<Item> = {}): Item =>
  blankItem(id, 'homework', { promptText: 'Onde moras?', prepareMs: 0, answerLimitMs: 30_000, ...over });
const content = (...items: Item[]) => blankContent('homework', { title: 'Bom dia', items });

describe('what forms and server both check', () => {
  it('takes what fits and drops what it does not know', () => {
    const { value, fields } = check(AssessmentContent, { ...content(item()), owner: 'somebody else' });
    expect(fields).toBeNull();
    expect(value).not.toHaveProperty('owner');
    expect(value!.items[0]).toMatchObject({ promptText: 'Onde moras?', points: 5 });
  });

  it('knows what sounds along with an answer, and what cannot', () => {
    const metronome = { bpm: 72, beats: 4, countInBars: 1, heard: true };
    const backing = { recordingId: id, durationMs: 30_000, isVideo: false };
    const music = blankMusic({ metronome, startingNote: 62, backing });
    const { value, fields } = check(AssessmentContent, content(item({ music })));
    expect(fields).toBeNull();
    expect(value!.items[0]!.music).toMatchObject({ metronome, startingNote: 62, drone: null });
    expect(filesOf(value!)).toEqual([
      { recordingId: id, path: 'items.0.music.backing', media: ['sound', 'video'] },
    ]);
    // A backing track is as long as the server measured.
    const measured = asMeasured(value!, new Map([[id, { durationMs: 31_234, isVideo: false }]]));
    expect(measured.items[0]!.music!.backing!.durationMs).toBe(31_234);
    const wrong = blankMusic({ metronome: { ...metronome, bpm: 900, beats: 0 }, drone: 5 });
    expect(check(AssessmentContent, content(item({ music: wrong }))).fields).toEqual({
      'items.0.music.metronome.bpm': 'A tempo is at most 240 beats a minute.',
      'items.0.music.metronome.beats': 'A bar has at least one beat.',
      'items.0.music.drone': expect.any(String),
    });
    // What was stored before there was music, and before files could be brought, is completed.
    const { music: _music, ...old } = item();
    const before = { ...content(), items: [old as Item], mayBring: undefined as never };
    expect(completed(before).items[0]!.music).toBeNull();
  });

  it('takes a take’s place on the clock only within what can be true', () => {
    const clock = {
      gated: true,
      soundFromMs: 100,
      answerFromMs: 2_600,
      loopMs: 35.5,
      loopMeasured: true,
      beat: { bpm: 96, beats: 4, countIn: 4 },
    };
    const take = {
      recordingId: id,
      itemId: id,
      mediaType: 'audio/webm',
      beganAt: '2026-11-25T09:00:00Z',
      clock,
    };
    expect(check(NewTake, take).fields).toBeNull();
    expect(check(NewTake, { ...take, clock: null, source: 'uploaded' }).fields).toBeNull();
    expect(Object.keys(check(NewTake, { ...take, source: 'phone' }).fields!)).toEqual(['source']);
    const odd = { ...clock, loopMs: -3, beat: { ...clock.beat, bpm: 0 } };
    expect(Object.keys(check(NewTake, { ...take, clock: odd }).fields!).sort()).toEqual([
      'clock.beat.bpm',
      'clock.loopMs',
    ]);
  });

  it('takes a student’s own words up to their length, and devices by their id', () => {
    const words = { title: 'D major 🎵', note: 'ذهبت إلى البحر' };
    expect(check(TakeWords, words).value).toEqual(expect.objectContaining(words));
    expect(check(TakeWords, { title: 'x'.repeat(161), note: '' }).fields).toEqual({
      title: 'A title has at most 160 characters.',
    });
    expect(check(TakeWords, { title: '', note: 'x'.repeat(2_001) }).fields).toEqual({
      note: 'A note has at most 2000 characters.',
    });
    expect(check(HoldSitting, { deviceId: 'mine', takeOver: false }).fields).not.toBeNull();
    expect(check(HoldSitting, { deviceId: id, takeOver: true }).fields).toBeNull();
  });

  it('names a field in depth by its path', () => {
    const { fields } = check(SaveAssessment, {
      revision: 1,
      content: content(item(), item({ prepareMs: -1, points: 0.125 })),
    });
    expect(fields).toEqual({
      'content.items.1.prepareMs': 'Time to prepare cannot be below zero.',
      'content.items.1.points': 'Points have at most two decimals.',
    });
  });

  it.each([
    [
      'an answer that lasts too long',
      { answerLimitMs: LIMITS.answerMs + 1 },
      'An answer is at most 60 minutes.',
    ],
    ['an answer of no length', { answerLimitMs: 0 }, 'An answer needs at least 1 second.'],
    ['half a millisecond', { prepareMs: 0.5 }, 'Time to prepare is a length such as 0:30.'],
    ['too many takes', { takesAllowed: 21 }, 'At most 20 takes, or no limit.'],
    ['too many points', { points: 1000.5 }, 'An item carries at most 1000 points.'],
    ['a prompt over its length', { promptText: 'x'.repeat(5_001) }, 'A prompt has at most 5000 characters.'],
  ])('refuses %s', (_name, over, message) => {
    expect(Object.values(check(AssessmentContent, content(item(over))).fields ?? {})).toEqual([message]);
  });

  it('stands what is not an object at all', () => {
    for (const nonsense of [null, undefined, 'text', 7, [], [item()]])
      expect(check(AssessmentContent, nonsense).value).toBeNull();
    expect(check(AssessmentContent, { ...content(), items: 'many' }).fields).toHaveProperty('items');
    expect(check(AssessmentContent, { ...content(), items: [null] }).fields).not.toBeNull();
  });

  it('holds an assessment to the number of items', () => {
    const many = Array.from({ length: 201 }, () => item());
    expect(check(AssessmentContent, content(...many)).fields).toEqual({
      items: 'An assessment has at most 200 items.',
    });
  });

  it('asks for a password that is long enough, and says only what is missing', () => {
    expect(
      check(FirstTeacher, { displayName: ' ', signInName: 'two words', password: 'short' }).fields,
    ).toEqual({
      displayName: 'Type the name that students will see.',
      signInName: 'Choose a sign-in name without spaces, for example your mail address.',
      password: 'A password needs at least 12 characters.',
    });
    expect(check(SignIn, { signInName: 'ana', password: '' }).fields).toEqual({
      password: 'Type your password.',
    });
  });

  it('keeps marks inside what can be a mark', () => {
    const mark = { revision: 0, points: 2.5, comment: '', finished: true };
    expect(check(SaveMark, mark).fields).toBeNull();
    expect(check(SaveMark, { ...mark, points: null }).fields).toBeNull();
    expect(check(SaveMark, { ...mark, points: '2' }).fields).toHaveProperty('points');
    expect(check(SaveMark, { ...mark, points: NaN }).fields).toHaveProperty('points');
    expect(check(SaveMark, { ...mark, comment: 'x'.repeat(5_001) }).fields).toEqual({
      comment: 'A comment has at most 5000 characters.',
    });
  });

  it('takes ids and instants only where ids and instants belong', () => {
    const take = {
      recordingId: id,
      itemId: id,
      mediaType: 'audio/webm',
      beganAt: '2026-11-24T10:00:00.000Z',
    };
    expect(check(NewTake, take).fields).toBeNull();
    expect(check(NewTake, { ...take, recordingId: "1' OR '1'='1" }).fields).toHaveProperty('recordingId');
    expect(check(NewTake, { ...take, beganAt: 'just now' }).fields).toHaveProperty('beganAt');
    const event = { id, itemId: null, kind: 'pageHidden', at: take.beganAt };
    expect(check(NewEvents, { events: [event] }).fields).toBeNull();
    expect(Object.keys(check(NewEvents, { events: [{ ...event, kind: 'gaveUp' }] }).fields ?? {})).toEqual([
      'events.0.kind',
    ]);
  });

  it('says what keeps an assessment from being released, in the order to mend it', () => {
    expect(releaseProblems(content(item()))).toEqual([]);
    expect(releaseProblems({ ...content(), title: ' ' })).toEqual([
      'Give the assessment a title.',
      'Add an item to answer.',
    ]);
    expect(
      releaseProblems(content(item({ promptText: '' }), item({ promptText: '', promptRecordingId: id }))),
    ).toEqual(['Item 1 has no prompt yet.']);
  });

  describe('a conversation', () => {
    const turn = (recordingId: string, fromMs: number, toMs: number, gapMs = 10_000) => ({
      id: recordingId.replace('0', '1'),
      recordingId,
      fromMs,
      toMs,
      gapMs,
      says: '',
    });
    const [a, b] = ['0f1c1a4e-43a5-4b6e-9d0a-0c9b7c1f2e11', '0f1c1a4e-43a5-4b6e-9d0a-0c9b7c1f2e12'];
    const conversing = (...turns: ReturnType<typeof turn>[]) => item({ isConversation: true, turns });

    it('lasts as long as its run, and its turns stay inside their sounds', () => {
      const measured = asMeasured(
        content(conversing(turn(a, 0, 9_000), turn(b, 1_000, 3_000))),
        new Map([[a, { durationMs: 4_000, isVideo: false }]]),
      );
      expect(measured.items[0]!.turns.map(t => [t.fromMs, t.toMs])).toEqual([
        [0, 4_000],
        [1_000, 3_000],
      ]);
      // 250 ms of lead, four and two seconds of turns, two gaps of ten.
      expect(measured.items[0]!.answerLimitMs).toBe(26_250);
      expect(check(AssessmentContent, measured).fields).toBeNull();
    });

    it('names each sound it speaks with, by the path of its field', () => {
      const voice = { recordingId: b, durationMs: 0, isVideo: false };
      const c = { ...content({ ...conversing(turn(a, 0, 9)), hintVoice: voice }), directionsVoice: voice };
      expect(filesOf(c).map(s => s.path)).toEqual([
        'directionsVoice',
        'items.0.hintVoice',
        'items.0.turns.0',
      ]);
    });

    it('is not released while it cannot be played', () => {
      const problems = (...turns: ReturnType<typeof turn>[]) =>
        releaseProblems(content(conversing(...turns)));
      expect(problems()).toEqual([expect.stringContaining('no turn yet')]);
      expect(problems(turn(a, 5, 5))).toEqual([expect.stringContaining('ends before it begins')]);
      expect(problems(turn(a, 0, 2_000), turn(a, 1_000, 3_000))).toEqual([
        expect.stringContaining('overlap'),
      ]);
      expect(problems(turn(a, 0, 2_000, 600_000), turn(b, 0, 1, 600_000), turn(b, 2, 3, 2_400_000))).toEqual([
        expect.stringContaining('longer than an hour'),
      ]);
      expect(problems(turn(a, 0, 2_000))).toEqual([]);
      // Given up for another way of answering, its turns do not matter.
      expect(releaseProblems(content(item({ answerBy: 'text', isConversation: true })))).toEqual([]);
    });
  });

  it('does not let a shortest answer outlast the limit, or an assessment ask for nothing', () => {
    expect(releaseProblems(content(item({ shortestAnswerMs: 40_000 })))).toEqual([
      expect.stringContaining('Item 1: The shortest answer is longer'),
    ]);
    expect(releaseProblems(content(item({ answerBy: 'nothing' })))).toEqual([
      expect.stringContaining('Nothing here is answered'),
    ]);
  });

  it('carries points by the scheme', () => {
    const by = (kind: 'none' | 'done' | 'points' | 'level', over: Partial<Item> = {}) =>
      carriedBy({ scoring: { ...blankContent().scoring, kind } }, item({ points: 4, ...over }));
    expect([
      by('points'),
      by('done'),
      by('none'),
      by('level'),
      by('points', { answerBy: 'nothing' }),
    ]).toEqual([4, 1, 0, 0, 0]);
  });

  it('shows students what they may see', () => {
    const c = content(item({ modelText: 'so', modelLanguage: 'pt', hintText: 'begin' }));
    expect(withoutModels(c).items[0]).toMatchObject({
      ...{ modelText: '', modelLanguage: '', hintText: 'begin' },
    });
    const hidden = forStudents({ ...c, scoring: { ...c.scoring, shown: false } });
    expect([hidden.scoring.scale, forStudents(c).scoring.scale.length]).toEqual([[], 7]);
  });

  describe('what is shown and read', () => {
    const stimulus = (kind: StimulusKind, over: Partial<Stimulus> = {}) => blankStimulus(id, kind, over);
    const rich = (text: string, lang?: string): RichText => ({
      type: 'doc',
      content: [
        {
          type: 'paragraph',
          ...(lang && { attrs: { lang } }),
          content: [{ type: 'text', text, marks: [{ type: 'bold' }] }],
        },
      ],
    });
    const problems = (over: Partial<Item>) =>
      Object.values(check(AssessmentContent, content(item(over))).fields ?? {});

    it('is checked where it stands', () => {
      expect(problems({ stimuli: [stimulus('link', { url: 'javascript:x' })] })).toEqual([
        expect.stringContaining('An address begins with https'),
      ]);
      expect(problems({ stimuli: [stimulus('passage', { language: 'Klingon!' })] })).toEqual([
        'Choose the language from the list.',
      ]);
      expect(problems({ stimuli: [stimulus('notation', { semitones: 13 })] })).toEqual([
        'At most an octave higher.',
      ]);
      expect(problems({ stimuli: Array(13).fill(stimulus('link')) as Stimulus[] })).toEqual([
        'An item shows at most 12 things.',
      ]);
      expect(problems({ promptRich: { type: 'doc', content: [{ type: 'script' }] } as never })).toEqual([
        expect.stringContaining('cannot be kept'),
      ]);
      expect(problems({ tags: [{ code: '', words: '' }] })).toEqual(['A statement needs words.']);
      expect(
        problems({
          promptRich: rich('Bom dia', 'pt'),
          stimuli: [stimulus('link', { url: 'https://a.example' })],
        }),
      ).toEqual([]);
    });

    it('is missing while it has no words, no address or no file', () => {
      const say = (s: Stimulus) => releaseProblems(content(item({ stimuli: [s] })));
      expect(say(stimulus('link'))).toEqual(['Item 1: A link has no address yet.']);
      expect(say(stimulus('passage', { text: ' ' }))).toEqual(['Item 1: A passage has no words yet.']);
      expect(say(stimulus('picture'))).toEqual(['Item 1: A file is not here yet.']);
      expect(say(stimulus('picture', { recordingId: id }))).toEqual([]);
      // Something to look at is a prompt.
      expect(
        releaseProblems(content(item({ promptText: '', stimuli: [stimulus('pages', { recordingId: id })] }))),
      ).toEqual([]);
      expect(releaseProblems({ ...content(item()), stimuli: [stimulus('link')] })).toEqual([
        'Directions: A link has no address yet.',
      ]);
    });

    it('names each of its files with the kind that belongs there', () => {
      const shown: RichText = {
        type: 'doc',
        content: [{ type: 'image', attrs: { recordingId: 'p', alt: '' } }],
      };
      const files = filesOf({
        ...content(
          item({
            promptRich: shown,
            stimuli: [stimulus('notation', { recordingId: 'n' }), stimulus('link')],
          }),
        ),
        directionsRich: shown,
        stimuli: [stimulus('pages', { recordingId: 'd' })],
      });
      expect(files.map(f => [f.path, f.recordingId, f.media.join()])).toEqual([
        ['stimuli.0', 'd', 'pages'],
        ['directionsRich', 'p', 'picture'],
        ['items.0.stimuli.0', 'n', 'notation'],
        ['items.0.promptRich', 'p', 'picture'],
      ]);
    });

    it('has the plain words of its formats, whatever a browser says they are', () => {
      const measured = asMeasured(
        { ...content(item({ promptText: 'lies', promptRich: rich('Olá') })), directionsRich: rich('Lê') },
        new Map(),
      );
      expect([measured.directions, measured.items[0]!.promptText]).toEqual(['Lê', 'Olá']);
    });

    it('reads aloud to those who need it, and shows the scheme to those who judge by it', () => {
      const voice = { recordingId: id, durationMs: 5, isVideo: false };
      const hidden = content(item({ readAloudVoice: voice }));
      hidden.scoring = { ...hidden.scoring, shown: false };
      expect(forStudents(hidden).items[0]!.readAloudVoice).toBeNull();
      expect(forStudents(hidden, true).items[0]!.readAloudVoice).toEqual(voice);
      expect(forStudents(hidden).scoring.scale).toEqual([]);
      expect(
        forStudents({ ...hidden, selfAssessment: 'beforeHearing' }).scoring.scale.length,
      ).toBeGreaterThan(0);
    });

    it('is there in content that was stored before it was thought of', () => {
      const old = JSON.parse(
        JSON.stringify(content(item({ hintVoice: { recordingId: id, durationMs: 5 } as never }))),
      ) as Record<string, unknown> & { items: Record<string, unknown>[] };
      for (const name of [
        'stimuli',
        'tags',
        'directionsRich',
        'selfAssessment',
        'screenLanguage',
        'recorderWords',
      ])
        delete old[name];
      for (const name of ['stimuli', 'tags', 'promptRich', 'promptIsVideo', 'readAloudVoice'])
        delete old.items[0]![name];
      const whole = completed(old as never);
      expect(check(AssessmentContent, whole).fields).toBeNull();
      expect(whole.items[0]).toMatchObject({
        promptText: 'Onde moras?',
        stimuli: [],
        hintVoice: { isVideo: false },
      });
    });
  });
});
