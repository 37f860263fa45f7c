import { ChevronDown } from 'lucide-react';
import { useState } from 'react';
import type { SpokenMessage } from '@ecoute/contract/spokenMessages';
import { clock } from '@ecoute/core/timing/words';
import { refusalOf } from '../../base/api';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { when } from '../../parts/when';
import { useTakeMessageBackMutation } from './endpoints';
import { Recipients } from './Recipients';

/** What stands between a message and its hearers; null where it is out, or on its way. */
function trouble({ sentAt, takenBackAt, voiceState }: SpokenMessage): string | null {
  if (sentAt ?? takenBackAt) return null;
  if (voiceState === 'refused')
    return 'Its sound arrived damaged, so it went to nobody. Record it again; then take this one back.';
  if (voiceState === 'stored')
    return 'Nothing can be heard in it, so it went to nobody. See that the microphone is not muted and record it again; then take this one back.';
  return null;
}

/** One message: heard again, who has played it, taken back. */
export function MessageRow({ message: m }: { message: SpokenMessage }) {
  const [open, setOpen] = useState(false);
  const [takeBack, taking] = useTakeMessageBackMutation();
  const refusal = refusalOf(taking.error);
  const wrong = trouble(m);
  const isBack = m.takenBackAt !== null;
  const counted = [
    m.students.all > 0 && `${m.students.heard} of ${m.students.all} students`,
    m.families.all > 0 && `${m.families.heard} of ${m.families.all} addresses of families`,
  ].filter(Boolean);
  return (
    <li className="grid gap-3 bg-sheet px-5 py-4">
      <div className="flex flex-wrap items-start gap-x-4 gap-y-2">
        {m.voiceState === 'stored' && (
          <PlayButton
            track={trackOf(m.voiceId, m.title, 'teacher', m.voiceMs)}
            label={m.title}
            text={m.voiceMs === null ? undefined : clock(m.voiceMs)}
          />
        )}
        <div className="min-w-0 flex-1 basis-64">
          <h3 dir="auto" className="text-lg font-semibold">
            {m.title}
          </h3>
          <p className="text-sm text-soft">
            {m.authorName} · {when(m.sentAt ?? m.madeAt)} · for {m.meantFor || 'the whole class'}
          </p>
          {m.words && (
            <p dir="auto" className="mt-1 line-clamp-2 whitespace-pre-wrap">
              {m.words}
            </p>
          )}
        </div>
        {!isBack && (
          <Button
            look="quiet"
            disabled={taking.isLoading}
            aria-label={`Take back ${m.title}`}
            onClick={() => void takeBack({ id: m.id, back: true })}
          >
            Take back
          </Button>
        )}
      </div>
      {refusal && <Notice kind="trouble">{refusal.message}</Notice>}
      {wrong && <Notice kind="trouble">{wrong}</Notice>}
      {isBack ? (
        <Notice
          action={
            <Button disabled={taking.isLoading} onClick={() => void takeBack({ id: m.id, back: false })}>
              Undo
            </Button>
          }
        >
          Taken back {when(m.takenBackAt!)}: nobody hears it any more, and the addresses in the mails lead
          nowhere.
        </Notice>
      ) : (
        !wrong && (
          <button
            type="button"
            aria-expanded={open}
            onClick={() => setOpen(!open)}
            className="flex min-h-11 items-center gap-2 justify-self-start text-start underline underline-offset-4"
          >
            <ChevronDown aria-hidden className={`size-5 shrink-0 ${open ? '' : '-rotate-90'}`} />
            {m.sentAt
              ? `Played by ${counted.join(' and ')}`
              : 'Its sound is on its way; it goes out when that is here'}
          </button>
        )
      )}
      {open && !isBack && !wrong && <Recipients id={m.id} />}
    </li>
  );
}
