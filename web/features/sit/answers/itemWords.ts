import { runOf } from '@ecoute/core/timing/conversation';
import { isInTurns, isRun } from '@ecoute/core/timing/strip';
import { clock } from '@ecoute/core/timing/words';
import type { Item } from '@ecoute/contract/assessments';
import { t } from '../../../base/i18n';

/** What sounds before and while an answer is played, said before it does. */
function soundsAlongWords(item: Item): (string | false)[] {
  const { music } = item;
  if (!music) return [];
  const { metronome, drone, backing } = music;
  return [
    metronome !== null &&
      t('♩ = {{tempo}}, {{beats}} beats in a bar.', { tempo: metronome.bpm, beats: metronome.beats }),
    drone !== null && t('A low note sounds all along.'),
    backing !== null && t('A backing track plays along.'),
    (backing !== null || drone !== null || metronome?.heard === true) &&
      t('Put headphones on if you have them.'),
  ];
}

/** What is asked of the student here, in one line. */
export function rulesOf(item: Item): string {
  if (item.answerBy === 'nothing') return t('Nothing to answer here: read or hear it, then go on.');
  if (item.answerBy === 'text') return t('Answer in writing. It is saved as you type.');
  if (item.answerBy === 'file') return t('Answer with a file. It is stored as soon as it is chosen.');
  if (isRun(item)) {
    const run = runOf(item.turns);
    return [
      t(
        'A conversation of {{turns}} turns, {{length}} without a stop. After each turn it is yours: speak until the next one.',
        { turns: item.turns.length, length: clock(run.lengthMs) },
      ),
      t('Put headphones on if you have them.'),
      item.prepareMs > 0 && t('{{time}} to prepare before it begins.', { time: clock(item.prepareMs) }),
      item.takesAllowed === 1 && t('One take only.'),
    ]
      .filter(Boolean)
      .join(' ');
  }
  if (isInTurns(item)) return t('Spoken in turns: it is the answer of all of you.');
  const takes =
    item.takesAllowed === 0
      ? t('As many takes as you like.')
      : item.takesAllowed === 1
        ? t('One take only.')
        : t('{{number}} takes.', { number: item.takesAllowed });
  return [
    item.prepareMs > 0
      ? t('{{prepare}} to prepare, then up to {{limit}} to answer.', {
          prepare: clock(item.prepareMs),
          limit: clock(item.answerLimitMs),
        })
      : t('Up to {{limit}} to answer.', { limit: clock(item.answerLimitMs) }),
    item.shortestAnswerMs > 0 && t('At least {{time}}.', { time: clock(item.shortestAnswerMs) }),
    takes,
    ...soundsAlongWords(item),
    item.pauseAllowed && t('You may pause.'),
    item.answerBy === 'audio' && item.sheet && t('While you speak you draw: each line keeps its moment.'),
  ]
    .filter(Boolean)
    .join(' ');
}

/** What recording begins with, once it is set off. */
export function beginsWith(item: Item): string {
  if (isRun(item)) return t('The conversation begins at once and runs to its end.');
  const counted = item.music?.metronome?.countInBars ?? 0;
  if (counted > 0)
    return counted === 1
      ? t('One bar is counted in first.')
      : t('{{number}} bars are counted in first.', { number: counted });
  if (item.music?.startingNote != null) return t('The starting note sounds first.');
  return t('Recording begins after a short tone.');
}

/** How often a prompt may be heard, where that is not as often as one likes. */
export function hearingsWords({ hearingsAllowed }: Pick<Item, 'hearingsAllowed'>): string | null {
  if (hearingsAllowed === 0) return null;
  return hearingsAllowed === 1
    ? t('It can be heard once.')
    : t('It can be heard {{number}} times.', { number: hearingsAllowed });
}

/** What hearing the prompt, or having read it, sets off; null where the student goes on by hand. @param hasPrompt a prompt sounds first */
export function setsOff(item: Item, hasPrompt: boolean): string | null {
  const isAutomatic = item.startsBy === 'itself';
  if (item.prepareMs === 0)
    return hasPrompt && isAutomatic ? t('Your answer begins right after it, with a beep.') : null;
  const time = clock(item.prepareMs);
  if (hasPrompt)
    return isAutomatic
      ? t('After it you have {{time}} to prepare; then recording begins automatically.', { time })
      : t('After it you have {{time}} to prepare; then it is your turn.', { time });
  return isAutomatic ? t('When that time is over, recording begins automatically.') : null;
}
