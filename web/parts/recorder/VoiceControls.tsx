import { Mic, Trash2 } from 'lucide-react';
import type { ReactNode } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { t } from '../../base/i18n';
import { useMe } from '../../base/useMe';
import { Button } from '../Button';
import { PlayButton } from '../player/PlayButton';
import type { useVoiceMessage } from './useVoiceMessage';
import { VoiceRecorder } from './VoiceRecorder';

/** Something that is spoken, heard, and recorded again before it goes anywhere. */
export function VoiceControls({
  voice,
  limitMs,
  title,
  label,
  isMain = false,
  isSent = true,
  mayDrop = true,
  children,
}: {
  voice: ReturnType<typeof useVoiceMessage>;
  limitMs: number;
  /** What it is, where it plays … */
  title: string;
  /** … and in the name of the button. */
  label: string;
  /** To speak is what is to be done here. */
  isMain?: boolean;
  /** It goes to somebody once it was heard. */
  isSent?: boolean;
  /** It can be left out altogether. */
  mayDrop?: boolean;
  /** What else is done with it. */
  children?: ReactNode;
}) {
  const me = useMe();
  const { message } = voice;
  if (voice.running || voice.ready) return <VoiceRecorder voice={voice} limitMs={limitMs} isSent={isSent} />;
  return (
    <div className="flex flex-wrap items-center gap-2">
      {message && (
        <PlayButton
          track={{
            id: message.id,
            url: message.url,
            title,
            voice: me.role,
            durationMs: message.durationMs,
          }}
          label={label}
          text={message.durationMs === null ? undefined : clock(message.durationMs)}
        />
      )}
      {message && mayDrop && (
        <Button look="quiet" aria-label={t('Leave the recording out')} onClick={voice.drop}>
          <Trash2 aria-hidden className="size-5" />
        </Button>
      )}
      <Button look={isMain && !message ? 'main' : 'plain'} onClick={() => void voice.prepare()}>
        <Mic aria-hidden className="size-5" />
        {message ? t('Record again') : t('Speak')}
      </Button>
      {children}
    </div>
  );
}
