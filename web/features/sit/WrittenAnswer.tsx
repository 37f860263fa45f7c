import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../app/api';
import { Field, inputClass } from '../../parts/Field';
import { PromptVoice } from '../../parts/PromptWords';
import { useWriteAnswerMutation } from './endpoints';
import type { Frame } from './ItemStage';
import { useRehearsal } from './rehearsal';
import { t } from '../../app/i18n';

const PAUSE_MS = 800;
const RETRY_MS = 4_000;

const key = (sittingId: string, itemId: string) => `ecoute-written-${sittingId}-${itemId}`;

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
  const place = key(sitting.id, item.id);
  const stored = sitting.written.find(w => w.itemId === item.id)?.text ?? '';
  const [text, setText] = useState(() => (rehearsal ? null : localStorage.getItem(place)) ?? stored);
  const [told, setTold] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [write] = useWriteAnswerMutation();
  const latest = useRef(text);
  const sent = useRef(stored);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);

  const send = useCallback(async () => {
    clearTimeout(timer.current);
    const now = latest.current;
    if (rehearsal || now === sent.current) return;
    setTold(t('Saving …'));
    try {
      await write({ sittingId: sitting.id, itemId: item.id, text: now }).unwrap();
      sent.current = now;
      if (latest.current === now) localStorage.removeItem(place);
      setTold(t('Saved'));
      setRefused(null);
    } catch (error) {
      const refusal = refusalOf(error);
      if (refusal && refusal.status >= 400 && refusal.status < 500) setRefused(t(refusal.message));
      else {
        setTold(t('Kept on this device; saved when Ecoute answers again'));
        timer.current = setTimeout(() => void send(), RETRY_MS);
      }
    }
  }, [item.id, place, rehearsal, sitting.id, write]);

  useEffect(() => {
    void send();
    // Going to another item saves what is left.
    return () => void send();
  }, [send]);

  return frame({
    busy: false,
    done: text.trim() !== '',
    position: 0,
    under: <PromptVoice item={item} text={t('Hear the prompt')} />,
    answer: (
      <>
        <Field
          label={t('Your answer')}
          hint={told ?? (rehearsal ? t('Not kept: a rehearsal') : t('Saved as you type'))}
          error={refused}
        >
          {ties => (
            <textarea
              {...ties}
              rows={8}
              maxLength={LIMITS.writtenAnswer}
              value={text}
              onChange={e => {
                latest.current = e.target.value;
                setText(e.target.value);
                try {
                  if (!rehearsal) localStorage.setItem(place, e.target.value);
                } catch {
                  // A full device: the server's copy is the one that counts.
                }
                clearTimeout(timer.current);
                timer.current = setTimeout(() => void send(), PAUSE_MS);
              }}
              className={`${inputClass} font-passage text-lg`}
            />
          )}
        </Field>
        {text.trim() !== '' && judging}
      </>
    ),
  });
}
