import { Mic, Square, SquareCheck } from 'lucide-react';
import { useEffect, useId, useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import type { Place } from '@ecoute/contract/discussions';
import { LIMITS } from '@ecoute/contract/limits';
import { announce as tell } from '../../../base/announce';
import { t } from '../../../base/i18n';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import { useVoiceMessage } from '../../../parts/recorder/useVoiceMessage';
import { lazyPart } from '../../../parts/lazyPart';
import { doorUrl, type Door } from '../endpoints';
import { puttingIn } from './usePuttingIn';

const Preview = lazyPart<{ stream: MediaStream; mirrored: boolean; label: string }>(() =>
  import('../../../parts/recorder/Preview').then(m => ({ default: m.Preview })),
);

/** How much time is left before it is said aloud. In ms. */
const NEARLY_MS = 10_000;

/** Whoever speaks, and by what rules. */
export interface SpeaksBy {
  door: Door;
  releaseId: string;
  limitMs: number;
  film: boolean;
  writtenAllowed: boolean;
  /** Of a teacher: whom a new thread is for; everybody when left out, or 0. */
  circle?: number;
}

/**
 * Where somebody speaks: the microphone opens with its level, time passed and left are in sight, and what is said is kept
 * and sent while it is said. What was recorded is heard before it is put in.
 */
export function Speak({
  by: { door, releaseId, limitMs, film, writtenAllowed },
  place,
  label,
  isAtOnce = false,
  onRunning,
  onClose,
}: {
  by: SpeaksBy;
  place: Place;
  /** What is spoken here, in a few words. */
  label: string;
  /** Recording begins with the press that brought somebody here. */
  isAtOnce?: boolean;
  onRunning: (id: string | null) => void;
  /** Recorded, or left. */
  onClose: () => void;
}) {
  const [mode, setMode] = useState<'speak' | 'write'>('speak');
  const [words, setWords] = useState('');
  const heading = useId();
  const box = useRef<HTMLElement>(null);
  const where = useRef(place);
  const voice = useVoiceMessage(limitMs, {
    film,
    keep: ({ id, beganAt, mediaType, clock: takeClock }) => ({
      place: { discussion: { releaseId, place: where.current } },
      announce: {
        url: `/${doorUrl({ door, releaseId })}/voices`,
        body: { recordingId: id, mediaType, beganAt, clock: takeClock, place: where.current },
      },
    }),
  });
  const { running, ready, message, elapsedMs } = voice;
  const runningId = running?.take.id ?? null;
  useEffect(() => onRunning(runningId), [runningId, onRunning]);
  useEffect(() => () => onRunning(null), [onRunning]);
  const leave = useRef(onClose);
  const putsIn = useRef(false);
  useEffect(() => {
    leave.current = onClose;
  });
  useEffect(() => {
    if (!message) return;
    if (putsIn.current)
      puttingIn.add({
        door,
        releaseId,
        id: message.id,
        said: { place: where.current, title: '', words: '', isSpoken: true },
      });
    leave.current();
  }, [message, door, releaseId]);
  const begun = useRef(false);
  useEffect(() => {
    if (begun.current) return;
    begun.current = true;
    box.current?.scrollIntoView({ block: 'nearest' });
    void (isAtOnce ? voice.speak() : voice.prepare());
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, with the press that opened it
  }, []);
  const leftMs = Math.max(0, limitMs - elapsedMs);
  const isNearly = running !== null && leftMs <= NEARLY_MS && leftMs > 0;
  useEffect(() => {
    if (isNearly) tell(t('{{count}} seconds', { count: Math.round(NEARLY_MS / 1000) }));
  }, [isNearly]);
  return (
    <section
      ref={box}
      aria-labelledby={heading}
      className={`grid scroll-mb-28 gap-3 border-2 bg-sheet p-3 ${running ? 'border-vermilion bg-vermilion-wash' : 'border-ink'}`}
    >
      <h4 id={heading} dir="auto" className="font-semibold">
        {label}
      </h4>
      {voice.seen && <Preview stream={voice.seen.stream} mirrored label={t('What the camera sees')} />}
      {running ? (
        <>
          <p className="flex flex-wrap items-baseline gap-x-4">
            <span data-spoken className="tabular text-2xl">
              {clock(elapsedMs)}
            </span>
            <span className={`tabular ${isNearly ? 'font-semibold' : 'text-soft'}`}>
              {t('{{left}} left', { left: clock(leftMs) })}
            </span>
          </p>
          <LevelMeter analyser={running.microphone.analyser} recording />
          <div className="flex flex-wrap gap-3">
            <Button look="record" onClick={() => void voice.stop()}>
              <Square aria-hidden className="size-5 fill-current" /> {t('Stop')}
            </Button>
            {isAtOnce && (
              <Button
                onClick={() => {
                  putsIn.current = true;
                  void voice.stop();
                }}
              >
                <SquareCheck aria-hidden className="size-5" /> {t('Stop, and put it in')}
              </Button>
            )}
          </div>
        </>
      ) : mode === 'write' ? (
        <form
          className="grid gap-3"
          onSubmit={event => {
            event.preventDefault();
            if (!words.trim()) return;
            puttingIn.add({
              door,
              releaseId,
              id: crypto.randomUUID(),
              said: { place: where.current, title: '', words, isSpoken: false },
            });
            onClose();
          }}
        >
          <Field label={t('What you write')}>
            {ties => (
              <textarea
                {...ties}
                autoFocus
                rows={4}
                dir="auto"
                maxLength={LIMITS.contributionWords}
                value={words}
                onChange={e => setWords(e.target.value)}
                className={inputClass}
              />
            )}
          </Field>
          <div className="flex flex-wrap gap-3">
            <Button look="main" type="submit" disabled={!words.trim()}>
              {t('Put it in')}
            </Button>
            <Button look="quiet" onClick={() => setMode('speak')}>
              {t('Speak instead')}
            </Button>
          </div>
        </form>
      ) : (
        <>
          {ready ? (
            <LevelMeter analyser={ready.analyser} />
          ) : (
            !voice.trouble && <p className="text-soft">{t('The microphone opens …')}</p>
          )}
          {voice.trouble && <Notice kind="trouble">{t(voice.trouble)}</Notice>}
          <p className="text-sm text-soft">
            {t('Nothing is recorded yet. You have up to {{limit}}; you hear it before others do.', {
              limit: clock(limitMs),
            })}
          </p>
          <div className="flex flex-wrap gap-3">
            {ready ? (
              <Button look="record" onClick={() => void voice.start()}>
                <Mic aria-hidden className="size-5" /> {t('Record now')}
              </Button>
            ) : (
              voice.trouble && (
                <Button onClick={() => void voice.prepare()}>
                  <Mic aria-hidden className="size-5" /> {t('Open the microphone')}
                </Button>
              )
            )}
            {writtenAllowed && (
              <Button
                onClick={() => {
                  voice.letGo();
                  setMode('write');
                }}
              >
                {t('Write instead')}
              </Button>
            )}
            <Button look="quiet" onClick={onClose}>
              {t('Not now')}
            </Button>
          </div>
        </>
      )}
      {running && voice.trouble && <Notice kind="trouble">{t(voice.trouble)}</Notice>}
    </section>
  );
}
