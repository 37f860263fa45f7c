import { Mic, Send, Trash2 } from 'lucide-react';
import { useRef, useState } from 'react';
import { clock } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../base/api';
import { t } from '../base/i18n';
import { useMe } from '../base/useMe';
import { Button } from './Button';
import { Field, inputClass } from './Field';
import { Notice } from './Notice';
import { PlayButton } from './player/PlayButton';
import { desk } from './recorder/delivery';
import { useVoiceMessage } from './recorder/useVoiceMessage';
import { VoiceRecorder } from './recorder/VoiceRecorder';

export interface ReplyToSend {
  id: string;
  words: string;
  voice: { recordingId: string; mediaType: string } | null;
}

/** A reply in text or voice. The voice is heard first; sent, it goes the way of every recording: kept here, then on. */
export function ReplyForm({
  label,
  url,
  about,
  voiceOnly = false,
  onSend,
}: {
  label: string;
  /** Where replies go, and what they are about. */
  url: string;
  about: { itemId: string | null; askId: string | null };
  /** Words alone do not do. */
  voiceOnly?: boolean;
  /** Tells the server of the reply; its voice follows. */
  onSend: (reply: ReplyToSend) => Promise<unknown>;
}) {
  const me = useMe();
  const [words, setWords] = useState('');
  const [sending, setSending] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** The same reply when it is sent once more. */
  const id = useRef(crypto.randomUUID());
  const voice = useVoiceMessage(LIMITS.voiceReplyMs);
  const empty = voiceOnly ? !voice.message : words.trim() === '' && !voice.message;
  const send = async () => {
    setSending(true);
    setTrouble(null);
    const { message } = voice;
    const reply: ReplyToSend = {
      id: id.current,
      words,
      voice: message && { recordingId: message.id, mediaType: message.mediaType },
    };
    try {
      await onSend(reply).catch((error: unknown) => {
        // Without a network a voice is kept on this device and told of later; what the server refuses stays here.
        if (!message || refusalOf(error)?.status !== 0) throw error;
      });
      if (message)
        await desk.whole(
          {
            id: message.id,
            personId: me.id,
            mediaType: message.mediaType,
            // Told once more it is the same reply.
            announce: { url, body: { ...about, ...reply } },
            place: {},
            beganAt: new Date().toISOString(),
            ended: false,
            refusal: null,
          },
          message.blob,
        );
      id.current = crypto.randomUUID();
      setWords('');
      voice.drop();
    } catch (error) {
      setTrouble(
        refusalOf(error)?.message ?? t('This could not be sent just now. It is still here; send it again.'),
      );
    } finally {
      setSending(false);
    }
  };
  return (
    <form
      className="grid max-w-2xl gap-2"
      onSubmit={event => {
        event.preventDefault();
        if (!empty) void send();
      }}
    >
      <Field label={label}>
        {ties => (
          <textarea
            {...ties}
            rows={2}
            dir="auto"
            maxLength={LIMITS.reply}
            value={words}
            onChange={e => setWords(e.target.value)}
            className={inputClass}
          />
        )}
      </Field>
      {voice.running || voice.ready ? (
        <VoiceRecorder voice={voice} limitMs={LIMITS.voiceReplyMs} />
      ) : (
        <div className="flex flex-wrap items-center gap-2">
          {voice.message && (
            <>
              <PlayButton
                track={{
                  id: voice.message.id,
                  url: voice.message.url,
                  title: t('Your reply'),
                  voice: me.role,
                  durationMs: voice.message.durationMs,
                }}
                label={t('your reply')}
                text={clock(voice.message.durationMs)}
              />
              <Button look="quiet" aria-label={t('Leave the recording out')} onClick={voice.drop}>
                <Trash2 aria-hidden className="size-5" />
              </Button>
            </>
          )}
          <Button onClick={() => void voice.prepare()}>
            <Mic aria-hidden className="size-5" />
            {voice.message ? t('Record again') : t('Speak')}
          </Button>
          <Button look="main" type="submit" disabled={empty || sending}>
            <Send aria-hidden className="size-5" /> {t('Send')}
          </Button>
        </div>
      )}
      {(trouble ?? voice.trouble) && <Notice kind="trouble">{trouble ?? t(voice.trouble!)}</Notice>}
    </form>
  );
}
