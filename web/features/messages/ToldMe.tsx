import { useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { MessageToMe } from '@ecoute/contract/spokenMessages';
import { t } from '../../base/i18n';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { when } from '../../parts/when';
import { useMessageHeardMutation, useToldMeQuery } from './endpoints';

function Told({ message: m, onPlay }: { message: MessageToMe; onPlay?: () => void }) {
  return (
    <li className="flex flex-wrap items-start gap-x-4 gap-y-2 bg-sheet px-5 py-4">
      <PlayButton
        track={trackOf(m.voiceId, m.title, 'teacher', m.voiceMs)}
        label={m.title}
        text={m.voiceMs === null ? undefined : clock(m.voiceMs)}
        onPlay={onPlay}
      />
      <div className="min-w-0 flex-1 basis-56">
        <h3 dir="auto" className="text-lg font-semibold">
          {m.title}
        </h3>
        <p className="text-sm text-soft">
          {m.authorName} · {m.className} · {when(m.sentAt)}
        </p>
        {m.words && (
          <p dir="auto" className="mt-1 whitespace-pre-wrap">
            {m.words}
          </p>
        )}
      </div>
    </li>
  );
}

/** What teachers have said to a student: what was not played yet, and the rest folded below it. */
export default function ToldMe() {
  const { data = [] } = useToldMeQuery();
  const [heard] = useMessageHeardMutation();
  // What is being listened to stays where it is.
  const [playedHere, setPlayedHere] = useState<readonly string[]>([]);
  const fresh = data.filter(m => !m.heardAt || playedHere.includes(m.id));
  const old = data.filter(m => !fresh.includes(m));
  if (data.length === 0) return null;
  return (
    <section className="mt-5 mb-8" aria-labelledby="told">
      <h2 id="told" className="text-xl">
        {t('Spoken messages')}
      </h2>
      {fresh.length > 0 && (
        <ul className="mt-4 grid gap-px bg-line">
          {fresh.map(m => (
            <Told
              key={m.id}
              message={m}
              onPlay={() => {
                setPlayedHere([...playedHere, m.id]);
                if (!m.heardAt) void heard(m.id);
              }}
            />
          ))}
        </ul>
      )}
      {old.length > 0 && (
        <details className="mt-2">
          <summary className="min-h-11 cursor-pointer py-2 underline underline-offset-4">
            {t('Played already: {{n}}', { n: old.length })}
          </summary>
          <ul className="mt-1 grid gap-px bg-line">
            {old.map(m => (
              <Told key={m.id} message={m} />
            ))}
          </ul>
        </details>
      )}
    </section>
  );
}
