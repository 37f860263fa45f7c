import { blankContent, blankItem, blankScoring } from '@ecoute/contract/blank';
import type { Scoring } from '@ecoute/contract/assessments';
import { judgementWords } from '../../../parts/judgementWords';
import { lengthWords } from '../../../parts/lengthWords';
import { shortPrompt } from '../../../parts/shortPrompt';
import { textOfFile } from '../../../parts/textOfFile';
import { blankStimulus } from '@ecoute/contract/blank';
import { isAskedOf, isSaid, NONE } from './judging';
import { recorderLabel } from '../answers/recorderLabel';

describe('students’ own judgement', () => {
  const item = blankItem('i');
  const asking = (over: object = {}) => blankContent('homework', { selfAssessment: 'afterHearing', ...over });

  it('is asked of what is answered, and of the whole where one level is given', () => {
    expect(isAskedOf(asking(), item)).toBe(true);
    expect(isAskedOf(asking(), { ...item, answerBy: 'nothing' })).toBe(false);
    expect(isAskedOf(asking({ selfAssessment: 'none' }), item)).toBe(false);
    expect(isAskedOf(asking(), null)).toBe(false);
    expect(isAskedOf(asking({ scoring: blankScoring('placement') }), null)).toBe(true);
  });

  it('is said as soon as anything of it is', () => {
    expect([isSaid(undefined), isSaid(NONE)]).toEqual([false, false]);
    for (const part of [
      { points: 0 },
      { level: 0 },
      { remark: 'x' },
      { choices: [{ criterionId: 'c', level: 0 }] },
    ])
      expect(isSaid({ ...NONE, ...part })).toBe(true);
  });

  it('is told in the words of the scheme, and only of that scheme', () => {
    const rubric = {
      levels: [
        { name: 'not yet', points: 0 },
        { name: 'well', points: 2 },
      ],
      criteria: [{ id: 'c', name: 'Flow', weight: 1, descriptors: ['', ''] }],
    };
    const all = {
      choices: [
        { criterionId: 'c', level: 1 },
        { criterionId: 'gone', level: 0 },
      ],
      points: 2.5,
      level: 1,
      remark: '',
    };
    const words = (kind: Scoring['kind'], judgement = all) =>
      judgementWords({ ...blankScoring('homework'), kind, rubric }, judgement);
    expect(words('rubric')).toEqual(['Flow: well']);
    expect(words('points')).toEqual(['2.5 points']);
    expect(words('points', { ...all, points: 1 })).toEqual(['1 point']);
    expect(words('done')).toEqual(['done']);
    expect(words('done', { ...all, points: 0 })).toEqual(['not done']);
    expect(words('level')).toHaveLength(1);
    expect(words('level', { ...all, level: 99 })).toEqual([]);
    expect(words('none')).toEqual([]);
  });
});

describe('words on the screen', () => {
  it('are the teacher’s on the recorder where there are any', () => {
    const words = {
      hearPrompt: '',
      prepare: ' ',
      answer: 'Ateb',
      recording: '',
      stop: '',
      pause: '',
      goOn: '',
      again: '',
      handIn: '',
    };
    expect(recorderLabel({ recorderWords: words }, 'answer', 'Answer now')).toBe('Ateb');
    expect(recorderLabel({ recorderWords: words }, 'prepare', 'Prepare')).toBe('Prepare');
    expect(recorderLabel({ recorderWords: null }, 'answer', 'Answer now')).toBe('Answer now');
  });

  it('say lengths as a person decides by them', () => {
    expect([1_000, 89_000, 90_000, 59.4 * 60_000, 3_600_000, 3_780_000].map(lengthWords)).toEqual([
      '1 second',
      '89 seconds',
      '90 seconds',
      'about 59 minutes',
      '1 h',
      '1 h 3 min',
    ]);
  });

  it('stand for a prompt that has none of its own', () => {
    const prompt = { promptText: '', promptRecordingId: null, promptIsVideo: false, stimuli: [] };
    const with_ = (...stimuli: ReturnType<typeof blankStimulus>[]) => shortPrompt({ ...prompt, stimuli });
    expect(shortPrompt({ ...prompt, promptText: 'Say it.' })).toBe('Say it.');
    expect(shortPrompt(prompt)).toBe('');
    expect(shortPrompt({ ...prompt, promptRecordingId: 'r' })).toBe('Spoken prompt');
    expect(shortPrompt({ ...prompt, promptRecordingId: 'r', promptIsVideo: true })).toBe('Filmed prompt');
    expect(with_(blankStimulus('a', 'pages', { page: 4 }))).toBe('Page 4');
    expect(with_(blankStimulus('a', 'passage', { text: '\nOne line\nand another' }))).toBe('One line');
    expect(with_(blankStimulus('a', 'picture', { words: 'The quay' }))).toBe('The quay');
    expect(with_(blankStimulus('a', 'notation'))).toBe('Notation');
  });

  it('are read from files in whatever encoding they come', async () => {
    const read = (...bytes: number[]) => textOfFile(new Blob([Uint8Array.from(bytes)]));
    expect(await read(0xef, 0xbb, 0xbf, 0xc3, 0xa9)).toBe('é');
    expect(await read(0xc3, 0xa9, 0x3b)).toBe('é;');
    // As older office programs write it.
    expect(await read(0xe9, 0x3b)).toBe('é;');
    expect(await read(0xff, 0xfe, 0xe9, 0x00)).toBe('é');
    expect(await read(0xfe, 0xff, 0x00, 0xe9)).toBe('é');
  });
});
