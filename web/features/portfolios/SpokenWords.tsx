import { Mic, Trash2 } from 'lucide-react';
import { useEffect, useRef } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import { t } from '../../base/i18n';
import { useAsksBeforeUnload } from '../../base/useAsksBeforeUnload';
import { Button } from '../../parts/Button';
import { Notice } from '../../parts/Notice';
import { PlayButton, trackOf } from '../../parts/player/PlayButton';
import { useVoiceMessage } from '../../parts/recorder/useVoiceMessage';
import { VoiceRecorder } from '../../parts/recorder/VoiceRecorder';
import { useOwnFile } from './useOwnFile';

/** A spoken reflection: it stands as soon as it is recorded, is heard in place, and is recorded again or left out. */
export function SpokenWords({
  portfolioId,
  voiceId,
  title,
  onVoice,
}: {
  portfolioId: string;
  voiceId: string | null;
  /** Of the piece that it is about. */
  title: string;
  onVoice: (voiceId: string | null) => void;
}) {
  const voice = useVoiceMessage(LIMITS.voiceReplyMs);
  const { bring, fateOf, trouble } = useOwnFile(portfolioId);
  const { message } = voice;
  useAsksBeforeUnload(message !== null || voice.running !== null);
  /** What was tried already does not go again without being asked for. */
  const tried = useRef<string | null>(null);
  const send = async () => {
    if (!message) return;
    tried.current = message.id;
    if (await bring(message.id, 'sound', message.mediaType, message.blob)) {
      onVoice(message.id);
      voice.drop();
    }
  };
  const sending = useRef(send);
  useEffect(() => {
    sending.current = send;
  });
  useEffect(() => {
    if (message && tried.current !== message.id) void sending.current();
  }, [message]);
  if (voice.running || voice.ready)
    return <VoiceRecorder voice={voice} limitMs={LIMITS.voiceReplyMs} isSent={false} />;
  const fate = voiceId ? fateOf(voiceId) : null;
  return (
    <div className="grid gap-2">
      <div className="flex flex-wrap items-center gap-2">
        {message ? (
          <>
            <PlayButton
              track={{
                id: message.id,
                url: message.url,
                title,
                voice: 'student',
                durationMs: message.durationMs,
              }}
              label={t('what you said of {{what}}', { what: title })}
              text={clock(message.durationMs ?? 0)}
            />
            {trouble && (
              <Button look="main" onClick={() => void send()}>
                {t('Send')}
              </Button>
            )}
          </>
        ) : (
          voiceId && (
            <>
              <PlayButton
                track={trackOf(voiceId, title, 'student', null)}
                label={t('what you said of {{what}}', { what: title })}
              />
              {fate?.underWay && <span className="text-sm text-soft">{t('on its way …')}</span>}
              <Button
                look="quiet"
                aria-label={t('Leave out what you said of {{what}}', { what: title })}
                onClick={() => onVoice(null)}
              >
                <Trash2 aria-hidden className="size-5" />
              </Button>
            </>
          )
        )}
        <Button onClick={() => void voice.prepare()}>
          <Mic aria-hidden className="size-5" />
          {voiceId || message ? t('Record again') : t('Say it instead')}
        </Button>
      </div>
      {(trouble ?? fate?.message ?? voice.trouble) && (
        <Notice kind="trouble">{trouble ?? fate?.message ?? t(voice.trouble!)}</Notice>
      )}
    </div>
  );
}
