import { isRecorded } from '@ecoute/core/timing/strip';
import type { Item } from '@ecoute/contract/assessments';
import { isTimed } from '@ecoute/contract/assessment/forStudents';
import type { SittingView } from '@ecoute/contract/sittings';
import { t } from '../../base/i18n';

/** "Item 2, Item 5": which of them, where a rule does not hold for all. */
function named(some: readonly Item[], all: readonly Item[], ofItems: readonly Item[]): string {
  if (some.length === ofItems.length) return '';
  return `${some.map(i => t('Item {{number}}', { number: all.indexOf(i) + 1 })).join(', ')}: `;
}

/**
 * The rules of a sitting as they are for this student, before it begins: how often, what begins automatically, what cannot be
 * undone.
 */
export function rulesOfSitting({ content, arrangement, hidden, openItemIds }: SittingView): string[] {
  const { items } = content;
  const isOpen = (i: Item) => openItemIds?.includes(i.id) ?? true;
  const recorded = items.filter(i => isRecorded(i.answerBy) && isOpen(i));
  const rule = (holds: (item: Item) => boolean, says: string): string[] => {
    const some = recorded.filter(holds);
    return some.length === 0 ? [] : [`${named(some, items, recorded)}${says}`];
  };
  const covered = new Map(hidden.map(h => [h.itemId, h]));
  const sounds = (i: Item) => covered.get(i.id)?.isVoiced ?? i.promptRecordingId !== null;
  return [
    ...(openItemIds
      ? [
          t('To be recorded again: {{items}}. The other answers stand as they were.', {
            items: items
              .filter(isOpen)
              .map(i => t('Item {{number}}', { number: items.indexOf(i) + 1 }))
              .join(', '),
          }),
        ]
      : []),
    ...rule(i => i.takesAllowed === 1, t('There is one take. It counts, and cannot be recorded again.')),
    ...rule(
      i => covered.has(i.id) || isTimed(i),
      t('You see what is asked when its time begins; then recording begins automatically.'),
    ),
    ...rule(i => sounds(i) && i.hearingsAllowed === 1, t('The prompt can be heard once.')),
    ...rule(
      i => sounds(i) && i.hearingsAllowed > 1,
      t('The prompt can be heard a few times only; how often is said there.'),
    ),
    ...rule(i => !i.pauseAllowed, t('A recording cannot be paused.')),
    ...(content.endTone && recorded.length > 0
      ? [t('A short tone says when the time of an answer is nearly over.')]
      : []),
    ...(arrangement.extraTime > 1 ? [t('All times here are longer for you, as agreed.')] : []),
    ...(content.selfAssessment === 'none' ? [] : [t('You are asked how it went.')]),
    content.mayWithdraw && content.sittingLimitMs === null
      ? t('What you hand in can be taken back until it is due.')
      : t('What is handed in stays handed in.'),
  ];
}

export function HowItGoes({ sitting }: { sitting: SittingView }) {
  return (
    <section aria-label={t('How it goes')}>
      <h2 className="font-semibold">{t('How it goes')}</h2>
      <ul className="list-disc ps-6">
        {rulesOfSitting(sitting).map(rule => (
          <li key={rule}>{rule}</li>
        ))}
      </ul>
    </section>
  );
}
