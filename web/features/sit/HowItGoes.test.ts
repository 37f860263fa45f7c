import { blankContent, blankItem } from '@ecoute/contract/blank';
import type { Item } from '@ecoute/contract/assessments';
import type { SittingView } from '@ecoute/contract/sittings';
import { ORDINARY } from '@ecoute/core/timing/arrangements';
import { rulesOfSitting } from './HowItGoes';

const sitting = (items: Partial<Item>[], over: object = {}, arrangement = ORDINARY): SittingView =>
  ({
    content: blankContent('homework', {
      items: items.map((item, i) => blankItem(String(i), 'homework', item)),
      mayWithdraw: true,
      ...over,
    }),
    arrangement,
    hidden: [],
  }) as never;

const exam = {
  startsBy: 'itself',
  promptRecordingId: 'p',
  prepareMs: 20_000,
  takesAllowed: 1,
  hearingsAllowed: 1,
} as const;

describe('the rules before a sitting begins', () => {
  it('are said once where they hold for all', () => {
    expect(rulesOfSitting(sitting([exam, exam]))).toEqual([
      'There is one take. It counts, and cannot be recorded again.',
      'You see what is asked when its time begins; then recording begins automatically.',
      'The prompt can be heard once.',
      'A recording cannot be paused.',
      'What you hand in can be taken back until it is due.',
    ]);
  });

  it('name the items where they hold for some, and nothing that is only written', () => {
    const rules = rulesOfSitting(
      sitting([{ takesAllowed: 0, pauseAllowed: true }, exam, { answerBy: 'text', takesAllowed: 1 }]),
    );
    expect(rules).toContain('Item 2: There is one take. It counts, and cannot be recorded again.');
    expect(rules).toContain('Item 2: A recording cannot be paused.');
    expect(rules.join(' ')).not.toMatch(/Item [13]/);
  });

  it('say how often a prompt is heard only where one sounds, also where it is kept back', () => {
    const silent = { ...exam, promptRecordingId: null };
    expect(rulesOfSitting(sitting([silent])).join(' ')).not.toMatch(/heard/);
    const kept = { ...sitting([silent]), hidden: [{ itemId: '0', isVoiced: true }] };
    expect(rulesOfSitting(kept)).toContain('The prompt can be heard once.');
  });

  it('are this student’s', () => {
    const rules = rulesOfSitting(
      sitting([exam], { sittingLimitMs: 600_000 }, { ...ORDINARY, extraTime: 1.5 }),
    );
    expect(rules).toContain('All times here are longer for you, as agreed.');
    expect(rules.join(' ')).not.toMatch(/tone/);
    expect(rulesOfSitting(sitting([exam], { endTone: true })).join(' ')).toMatch(/short tone/);
    // A limited sitting is handed in once.
    expect(rules).toContain('What is handed in stays handed in.');
  });
});
