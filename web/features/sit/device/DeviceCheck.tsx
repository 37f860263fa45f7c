import { Mic, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import type { CheckVerdict } from '@ecoute/core/audio/soundCheck';
import { Button } from '../../../parts/Button';
import { Field, inputClass } from '../../../parts/Field';
import { Notice } from '../../../parts/Notice';
import { LevelMeter } from '../../../parts/recorder/LevelMeter';
import {
  microphones,
  microphoneTrouble,
  openMicrophone,
  type Microphone,
} from '../../../parts/recorder/microphone';
import { testMicrophone } from '../../../parts/recorder/micTest';
import { t } from '../../../base/i18n';

/** What two seconds of the microphone say, in words; null when all is well. */
function wordsOf(verdict: CheckVerdict): string | null {
  switch (verdict) {
    case 'silent':
      return t(
        'We heard nothing. Is the microphone muted, or is another one chosen? Choose it above and try again.',
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

/** Once before the first answer: why, then the browser's question, then level and two seconds to hear oneself. */
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
  const [devices, setDevices] = useState<{ id: string; name: string }[]>([]);
  const [testing, setTesting] = useState(false);
  const [heard, setHeard] = useState<{
    url: string;
    warning: string | null;
    hearsLoudspeaker: boolean;
  } | null>(null);
  const sound = useRef<HTMLAudioElement>(null);

  const open = async (deviceId?: string) => {
    setTrouble(null);
    setHeard(null);
    try {
      const opened = await openMicrophone(forMusic, deviceId);
      microphone?.close();
      onMicrophone(opened);
      setDevices(await microphones());
    } catch (error) {
      setTrouble(microphoneTrouble(error));
    }
  };

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

  return (
    <section className="mx-auto grid w-full grid-cols-1 max-w-xl gap-5 bg-sheet p-5 sm:p-8">
      <h2 className="text-2xl">{t('Your microphone')}</h2>
      {!microphone ? (
        <>
          <p className="text-lg">
            {t(
              'Your answers are spoken, so Ecoute needs the microphone. Your browser asks you next. Allowing it records nothing: you always see when a recording runs.',
            )}
          </p>
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          <Button look="main" big onClick={() => void open()}>
            <Mic aria-hidden className="size-6" /> {trouble ? t('Try again') : t('Allow the microphone')}
          </Button>
          {onWithout && (
            <Button onClick={onWithout}>{t('There is no microphone here: go on without')}</Button>
          )}
        </>
      ) : (
        <>
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
          <div>
            <LevelMeter analyser={microphone.analyser} recording={testing} />
            <p className="mt-1 text-sm text-soft">{t('Say something: the bar follows your voice.')}</p>
          </div>
          {playsAlong && !heard && (
            <p>{t('Sound is played while you answer: headphones are best. The test plays a short tone.')}</p>
          )}
          {trouble && <Notice kind="trouble">{trouble}</Notice>}
          <Button onClick={() => void test()} disabled={testing}>
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
          <Button look="main" big onClick={onDone} disabled={testing}>
            {heard && !heard.warning ? t('I heard myself: go on') : t('Go on')}
          </Button>
        </>
      )}
    </section>
  );
}
