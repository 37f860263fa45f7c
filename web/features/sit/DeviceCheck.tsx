import { Mic, Square } from 'lucide-react';
import { useEffect, useRef, useState } from 'react';
import { dbfs, isSilent } from '@ecoute/core/audio/peaks';
import { Button } from '../../parts/Button';
import { Field, inputClass } from '../../parts/Field';
import { Notice } from '../../parts/Notice';
import { LevelMeter } from '../../parts/recorder/LevelMeter';
import {
  levelOf,
  microphones,
  microphoneTrouble,
  openMicrophone,
  type Microphone,
} from '../../parts/recorder/microphone';
import { recordingType } from '../../parts/recorder/take';
import { t } from '../../app/i18n';

const TEST_MS = 2_000;
const CLIPPING = 0.985;
/** A room louder than this between words makes answers hard to hear. */
const NOISY_DBFS = -38;

/** What two seconds of listening to the microphone say, in words; null when all is well. */
function verdict(peaks: number[], levels: number[]): string | null {
  const peak = Math.max(0, ...peaks);
  const quiet = [...levels].sort((a, b) => a - b)[Math.floor(levels.length / 10)] ?? 0;
  if (isSilent(dbfs(peak)))
    return t(
      'We heard nothing. Is the microphone muted, or is another one chosen? Choose it above and try again.',
    );
  if (peak >= CLIPPING)
    return t('That was too loud and is distorted. Move a little away from the microphone and try again.');
  if (dbfs(quiet) > NOISY_DBFS)
    return t(
      'The room is noisy. Close a window or go nearer to the microphone; you may also go on like this.',
    );
  return null;
}

/** Once before the first answer: why, then the browser's question, then level and two seconds to hear oneself. */
export function DeviceCheck({
  forMusic,
  microphone,
  onMicrophone,
  onDone,
}: {
  forMusic: boolean;
  microphone: Microphone | null;
  onMicrophone: (microphone: Microphone) => void;
  onDone: () => void;
}) {
  const [trouble, setTrouble] = useState<string | null>(null);
  const [devices, setDevices] = useState<{ id: string; name: string }[]>([]);
  const [testing, setTesting] = useState(false);
  const [heard, setHeard] = useState<{ url: string; warning: string | null } | null>(null);
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
    const recorder = new MediaRecorder(microphone.stream, { mimeType: recordingType() });
    const parts: Blob[] = [];
    const peaks: number[] = [];
    const levels: number[] = [];
    recorder.ondataavailable = e => parts.push(e.data);
    const over = new Promise(resolve => (recorder.onstop = resolve));
    recorder.start();
    const meter = setInterval(() => {
      const { peak, rms } = levelOf(microphone.analyser);
      peaks.push(peak);
      levels.push(rms);
    }, 40);
    await new Promise(resolve => setTimeout(resolve, TEST_MS));
    clearInterval(meter);
    recorder.stop();
    await over;
    setTesting(false);
    setHeard({
      url: URL.createObjectURL(new Blob(parts, { type: recorder.mimeType })),
      warning: verdict(peaks, levels),
    });
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
