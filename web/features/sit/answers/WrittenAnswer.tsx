import { useCallback, useEffect, useRef, useState, type ReactNode } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { LIMITS } from '@ecoute/contract/limits';
import type { SittingView } from '@ecoute/contract/sittings';
import { refusalOf } from '../../../base/api';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { PromptVoice } from '../../../parts/PromptWords';
import { useWriteAnswerMutation } from '../endpoints';
import type { Frame } from './frame';
import { useRehearsal } from '../rehearsal/rehearsal';
import { t } from '../../../base/i18n';

const PAUSE_MS = 800;
const RETRY_MS = 4_000;

const key = (sittingId: string, itemId: string) => `ecoute-written-${sittingId}-${itemId}`;

interface Draft {
  text: string;
  /** The wording on the server that it was changed from. */
  revision: number;
}

function draftIn(place: string): Draft | null {
  const kept = localStorage.getItem(place);
  if (kept === null) return null;
  try {
    const draft = JSON.parse(kept) as Draft;
    return typeof draft.text === 'string' && typeof draft.revision === 'number' ? draft : null;
  } catch {
    return null;
  }
}

function keepDraft(place: string, draft: Draft): void {
  try {
    localStorage.setItem(place, JSON.stringify(draft));
  } catch {
    // A full device: the server's copy is the one that counts.
  }
}

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
  const written = sitting.written.find(w => w.itemId === item.id);
  const stored = written?.text ?? '';
  const [draft] = useState(() => (rehearsal ? null : draftIn(place)));
  const [text, setText] = useState(draft?.text ?? stored);
  /** What another device stored meanwhile; the student says which wording stays. */
  const [other, setOther] = useState<{ text: string; revision: number } | null>(null);
  const [told, setTold] = useState<string | null>(null);
  const [refused, setRefused] = useState<string | null>(null);
  const [write] = useWriteAnswerMutation();
  const latest = useRef(text);
  const sent = useRef(stored);
  /** The wording that what is typed here was changed from. */
  const revision = useRef(draft?.revision ?? written?.revision ?? 0);
  const timer = useRef<ReturnType<typeof setTimeout>>(undefined);
  const conflict = useRef(false);

  const send = useCallback(async () => {
    clearTimeout(timer.current);
    const now = latest.current;
    if (rehearsal || now === sent.current || conflict.current) return;
    setTold(t('Saving …'));
    try {
      const kept = await write({
        sittingId: sitting.id,
        itemId: item.id,
        text: now,
        revision: revision.current,
      }).unwrap();
      revision.current = kept.revision;
      sent.current = now;
      if (latest.current !== now) keepDraft(place, { text: latest.current, revision: kept.revision });
      if (latest.current === now) localStorage.removeItem(place);
      setTold(t('Saved'));
      setRefused(null);
    } catch (error) {
      const refusal = refusalOf(error);
      if (refusal?.code === 'stale') {
        conflict.current = true;
        setTold(null);
        setOther((refusal.current as { text: string; revision: number } | null) ?? { text: '', revision: 0 });
      } else if (refusal && refusal.status >= 400 && refusal.status < 500) setRefused(t(refusal.message));
      else {
        setTold(t('Kept on this device; saved when Ecoute answers again'));
        timer.current = setTimeout(() => void send(), RETRY_MS);
      }
    }
  }, [item.id, place, rehearsal, sitting.id, write]);

  const choose = (wording: string) => {
    if (!other) return;
    [latest.current, revision.current, conflict.current] = [wording, other.revision, false];
    sent.current = other.text;
    setText(wording);
    setOther(null);
    if (wording === other.text) localStorage.removeItem(place);
    else keepDraft(place, { text: wording, revision: other.revision });
    void send();
  };

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
                if (!rehearsal) keepDraft(place, { text: e.target.value, revision: revision.current });
                clearTimeout(timer.current);
                timer.current = setTimeout(() => void send(), PAUSE_MS);
              }}
              className={`${inputClass} font-passage text-lg`}
            />
          )}
        </Field>
        {other && (
          <Notice kind="trouble">
            <p>{t('This answer was changed on another device. There it reads:')}</p>
            <blockquote dir="auto" className="my-2 border-s-4 border-line ps-3 whitespace-pre-wrap">
              {other.text || t('(nothing)')}
            </blockquote>
            <span className="flex flex-wrap gap-2">
              <Button onClick={() => choose(other.text)}>{t('Take that one')}</Button>
              <Button onClick={() => choose(latest.current)}>{t('Keep what is written here')}</Button>
            </span>
          </Notice>
        )}
        {text.trim() !== '' && judging}
      </>
    ),
  });
}
