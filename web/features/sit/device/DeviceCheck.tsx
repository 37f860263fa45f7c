import { Check, Mic, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { CheckVerdict } from '@ecoute/core/audio/soundCheck';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import { microphoneTrouble, openMicrophone, type Microphone } from '../../../parts/recorder/microphone';
import { keepCheck } from '../../../parts/recorder/heldCheck';
import { measureLoop, testMicrophone } from '../../../parts/recorder/micTest';
import { microphones } from '../../../parts/recorder/whichMicrophone';
import { announce } from '../../../base/announce';
import { useArrival } from '../stage/useArrival';
import { useLiveCheck } from './useLiveCheck';
import { t } from '../../../base/i18n';

/** What the microphone shows, in words; null when all is well. */
function wordsOf(verdict: CheckVerdict | 'muted'): string | null {
  switch (verdict) {
    case 'muted':
      return t(
        'The device has muted the microphone. Switch it on (a key, a switch, or a call that is still open).',
      );
    case 'silent':
      return t(
        'We heard nothing. Is the microphone muted, or is another one chosen? Choose it in the list and try again.',
      );
    case 'faint':
      return t(
        'That was very soft. Go nearer to the microphone, or speak or play louder, and try again; you may also go on like this.',
      );
    case 'clipped':
      return t('That was too loud and is distorted. Move a little away from the microphone and try again.');
    case 'noisy':
      return t(
        'The room is noisy. Close a window or go nearer to the microphone; you may also go on like this.',
      );
    case 'good':
      return null;
  }
}

/** So long a browser is waited for before it is said what to look for. */
const ASKS_WITHIN_MS = 12_000;

/**
 * Once before the first answer: the browser's question, then what the microphone hears while one speaks. Nothing is recorded
 * but the two seconds that somebody asks for.
 */
export function DeviceCheck({
  forMusic,
  playsAlong,
  microphone,
  onMicrophone,
  onDone,
  onWithout,
}: {
  forMusic: boolean;
  /** Something will sound while answers are recorded. */
  playsAlong: boolean;
  microphone: Microphone | null;
  onMicrophone: (microphone: Microphone) => void;
  onDone: () => void;
  /** Goes on without a microphone on this device; undefined where that leads nowhere. */
  onWithout?: () => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [opening, setOpening] = useState(false);
  const [waits, setWaits] = useState(false);
  const [devices, setDevices] = useState<{ id: string; name: string }[]>([]);
  const [testing, setTesting] = useState(false);
  const [heard, setHeard] = useState<{
    url: string;
    warning: string | null;
    hearsLoudspeaker: boolean;
  } | null>(null);
  /** How long a sound is under way here: being measured, known, or the tone did not come back. */
  const [loop, setLoop] = useState<'measuring' | 'known' | 'unknown' | null>(null);
  const sound = useRef<HTMLAudioElement>(null);
  const heading = useArrival<HTMLHeadingElement>();
  const live = useLiveCheck(microphone, testing);
  /** Left while the browser was asked. */
  const gone = useRef(false);

  const open = async (deviceId?: string) => {
    setTrouble(null);
    setHeard(null);
    setOpening(true);
    try {
      const opened = await openMicrophone(forMusic, deviceId);
      if (gone.current) return opened.close();
      microphone?.close();
      setLoop(null);
      onMicrophone(opened);
      setDevices(await microphones());
    } catch (error) {
      setTrouble(microphoneTrouble(error));
    } finally {
      setOpening(false);
    }
  };
  // The press that led here is the wish: the browser asks now.
  useEffect(() => {
    gone.current = false;
    if (!microphone) void open();
    return () => {
      gone.current = true;
    };
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once, when it comes up
  }, []);
  useEffect(() => {
    setWaits(false);
    if (!opening) return;
    const timer = setTimeout(() => setWaits(true), ASKS_WITHIN_MS);
    return () => clearTimeout(timer);
  }, [opening]);

  useEffect(() => {
    if (!navigator.mediaDevices) return;
    // A headset plugged in now should be in the list.
    const renew = () => void microphones().then(setDevices);
    if (microphone) renew();
    navigator.mediaDevices.addEventListener('devicechange', renew);
    return () => navigator.mediaDevices.removeEventListener('devicechange', renew);
  }, [microphone]);

  const test = async () => {
    if (!microphone) return;
    setTesting(true);
    setHeard(null);
    setTrouble(null);
    try {
      const { sound, verdict, hearsLoudspeaker } = await testMicrophone(microphone, playsAlong);
      setHeard({ url: URL.createObjectURL(sound), warning: wordsOf(verdict), hearsLoudspeaker });
      if (playsAlong && hearsLoudspeaker) setLoop('known');
    } catch (error) {
      setTrouble(microphoneTrouble(error));
    } finally {
      setTesting(false);
    }
  };
  useEffect(() => {
    if (!heard) return;
    void sound.current?.play().catch(() => undefined);
    return () => URL.revokeObjectURL(heard.url);
  }, [heard]);

  const warning = live.verdict && wordsOf(live.verdict);
  const isHeard = live.verdict === 'good' || (heard !== null && !heard.warning);
  // What is wrong is a notice, which is read out on its own.
  const isWell = isHeard && !warning;
  useEffect(() => {
    if (isWell) announce(t('You are heard well.'));
  }, [isWell]);
  // Where something sounds along, it counts how long a sound is under way: learned without being asked for, once one is heard.
  const learn = async (tries?: number) => {
    if (!microphone) return;
    setLoop('measuring');
    const isKnown = await measureLoop(microphone, tries).catch(() => false);
    if (!gone.current) setLoop(isKnown ? 'known' : 'unknown');
  };
  const learns = playsAlong && isWell && !testing && loop === null;
  useEffect(() => {
    if (learns) void learn();
    // eslint-disable-next-line react-hooks/exhaustive-deps -- once for each microphone
  }, [learns]);
  // From the moment in which one is heard: a button that can be pressed for an instant would swallow the press.
  const measuring = loop === 'measuring' || learns;
  const goOn = () => {
    if (microphone && isHeard && !warning) keepCheck(microphone, forMusic);
    onDone();
  };

  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-xl gap-5 bg-sheet p-5 sm:p-8">
      <h2 ref={heading} tabIndex={-1} className="text-2xl">
        {t('Your microphone')}
      </h2>
      {!microphone ? (
        <>
          <p className="text-lg">
            {t(
              'Your answers are spoken, so Ecoute needs the microphone. Your browser asks you now. Allowing it records nothing: you always see when a recording runs.',
            )}
          </p>
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          {waits && (
            <Notice>
              {t(
                'The browser has not answered yet. Look for its question near the address, at the top or at the bottom of the window.',
              )}
            </Notice>
          )}
          {(trouble || waits) && (
            <Button look="main" big onClick={() => void open()}>
              <Mic aria-hidden className="size-6" /> {t('Try again')}
            </Button>
          )}
          {onWithout && (
            <Button onClick={onWithout}>{t('There is no microphone here: go on without')}</Button>
          )}
        </>
      ) : (
        <>
          <p className="text-lg">
            {forMusic ? t('Play a few notes, as you will play.') : t('Say a few words, as you will answer.')}
          </p>
          <LevelMeter analyser={microphone.analyser} recording={testing} />
          {microphone.isAnother && <Notice>{t('This is another microphone than last time.')}</Notice>}
          {playsAlong && !heard && (
            <p>{t('Sound is played while you answer: headphones are best. The test plays a short tone.')}</p>
          )}
          {playsAlong && (
            <div role="status" className="grid min-h-7 gap-3">
              {loop === null && !learns ? null : measuring ? (
                <p className="text-soft">{t('A short tone is played and listened for …')}</p>
              ) : loop === 'known' ? (
                <p className="flex items-center gap-2">
                  <Check aria-hidden className="size-5 shrink-0" />
                  {t('The tone came back: how you keep to what sounds along can be told.')}
                </p>
              ) : (
                <>
                  <Notice>
                    {t(
                      'The tone did not come back, as with headphones. Hold one of them to the microphone and let it sound again, so that it is known how you keep to what sounds along.',
                    )}
                  </Notice>
                  <Button onClick={() => void learn(1)} disabled={testing}>
                    {t('Play the tone again')}
                  </Button>
                </>
              )}
            </div>
          )}
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          {/* Together, so that on a turned phone the button does not lie over what it is about. */}
          <div className="sticky bottom-0 -mx-5 grid gap-3 bg-sheet px-5 py-2 sm:mx-0 sm:px-0">
            <div className="min-h-32 sm:min-h-20">
              {warning ? (
                <Notice kind="trouble">{warning}</Notice>
              ) : isHeard ? (
                <p className="flex items-center gap-2 text-lg font-semibold">
                  <Check aria-hidden className="size-6" /> {t('You are heard well.')}
                </p>
              ) : (
                <p className="text-soft">{t('Listening …')}</p>
              )}
            </div>
            <Button look="main" big className="w-full" onClick={goOn} disabled={testing || measuring}>
              {isHeard && !warning ? t('I am heard: go on') : warning ? t('Go on all the same') : t('Go on')}
            </Button>
          </div>
          {live.isTelephone && (
            <Notice>
              {t(
                'This microphone sends in telephone quality, as some wireless headsets do. The one of the device itself sounds better; choose it below.',
              )}
            </Notice>
          )}
          <Field label={t('Microphone')}>
            {ties => (
              <select
                {...ties}
                className={inputClass}
                value={microphone.deviceId}
                onChange={e => void open(e.target.value)}
              >
                {devices.map(d => (
                  <option key={d.id} value={d.id}>
                    {d.name}
                  </option>
                ))}
              </select>
            )}
          </Field>
          <Button onClick={() => void test()} disabled={testing || measuring}>
            {testing ? (
              <>
                <Square aria-hidden className="size-5 fill-current" /> {t('Speak now …')}
              </>
            ) : heard ? (
              t('Two seconds again')
            ) : (
              t('Record two seconds and hear them')
            )}
          </Button>
          {heard && (
            <div className="grid grid-cols-1 gap-3">
              <audio ref={sound} src={heard.url} controls className="w-full" />
              {heard.hearsLoudspeaker && (
                <Notice>
                  {t(
                    'The microphone hears this device’s loudspeaker. Sound is played while you answer: put headphones on if you have them, so that only you are recorded.',
                  )}
                </Notice>
              )}
              {heard.warning ? (
                <Notice kind="trouble">{heard.warning}</Notice>
              ) : (
                <Notice>{t('That sounds right. Did you hear yourself?')}</Notice>
              )}
            </div>
          )}
        </>
      )}
    </section>
  );
}
