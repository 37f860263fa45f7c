import type { ReactNode } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { SittingView } from '@ecoute/contract/sittings';
import { Kept } from '../../../base/kept/kept';
import { useKept } from '../../../base/kept/useKept';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { PromptVoice } from '../../../parts/PromptWords';
import { useWriteAnswerMutation } from '../endpoints';
import type { Frame } from './frame';
import { useRehearsal } from '../rehearsal/rehearsal';
import { t } from '../../../base/i18n';

const PAUSE_MS = 800;
/** An answer in writing: on this device with each letter, with the server a moment later. */
export function WrittenAnswer({
  sitting,
  item,
  frame,
  judging,
}: {
  sitting: SittingView;
  item: Item;
  frame: Frame;
  judging: ReactNode;
}): ReactNode {
  const rehearsal = useRehearsal();
  const written = sitting.written.find(w => w.itemId === item.id);
  const [write] = useWriteAnswerMutation();
  const [{ value: text, state, refusal, theirs }, kept] = useKept<string>(
    rehearsal ? null : `ecoute-written-${sitting.id}-${item.id}`,
    shelf =>
      new Kept({
        stored: { value: written?.text ?? '', revision: written?.revision ?? 0 },
        send: async (wording, revision) => {
          if (rehearsal) return { value: wording, revision };
          const back = await write({
            sittingId: sitting.id,
            itemId: item.id,
            text: wording,
            revision,
          }).unwrap();
          return { value: wording, revision: back.revision };
        },
        theirs: ({ current }) => {
          const other = current as { text: string; revision: number } | null;
          return { value: other?.text ?? '', revision: other?.revision ?? 0 };
        },
        shelf,
        pauseMs: PAUSE_MS,
      }),
  );
  const said = {
    still: text === '' ? t('Saved as you type') : t('Saved'),
    changed: t('Saved as you type'),
    saving: t('Saving …'),
    saved: t('Saved'),
    away: t('Kept on this device; saved when Ecoute answers again'),
    refused: null,
    conflict: null,
  }[state];

  return frame({
    phase: 'written',
    says: t('What to do now'),
    busy: false,
    done: text.trim() !== '',
    position: 0,
    under: <PromptVoice item={item} text={t('Hear the prompt')} />,
    answer: (
      <>
        <Field
          label={t('Your answer')}
          hint={rehearsal ? t('Not kept: a rehearsal') : said}
          error={state === 'refused' && refusal ? t(refusal.message) : null}
        >
          {ties => (
            <textarea
              {...ties}
              rows={8}
              maxLength={LIMITS.writtenAnswer}
              value={text}
              onChange={e => kept.change(e.target.value)}
              className={`${inputClass} font-passage text-lg`}
            />
          )}
        </Field>
        {state === 'conflict' && (
          <Notice kind="trouble">
            <p>{t('This answer was changed on another device. There it reads:')}</p>
            <blockquote dir="auto" className="my-2 border-s-4 border-line ps-3 whitespace-pre-wrap">
              {theirs || t('(nothing)')}
            </blockquote>
            <span className="flex flex-wrap gap-2">
              <Button onClick={() => void kept.settle('stored')}>{t('Take that one')}</Button>
              <Button onClick={() => void kept.settle('here')}>{t('Keep what is written here')}</Button>
            </span>
          </Notice>
        )}
        {text.trim() !== '' && judging}
      </>
    ),
  });
}
