import { Send } from 'lucide-react';
import { useRef, useState } from 'react';
import { LIMITS } from '@ecoute/contract/limits';
import { refusalOf } from '../base/api';
import { t } from '../base/i18n';
import { Button } from './Button';
import { Field, inputClass } from './Field';
import { Notice } from './Notice';
import { useVoiceMessage } from './recorder/useVoiceMessage';
import { VoiceControls } from './recorder/VoiceControls';

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
  const [words, setWords] = useState('');
  const [sending, setSending] = useState(false);
  const [trouble, setTrouble] = useState<string | null>(null);
  /** The same reply when it is sent once more. */
  const id = useRef(crypto.randomUUID());
  const voice = useVoiceMessage(LIMITS.voiceReplyMs, {
    aside: ['reply', url, about.itemId, about.askId].join(' '),
  });
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
      if (message) await voice.send({ url, body: { ...about, ...reply } }, () => onSend(reply));
      else await onSend(reply);
      id.current = crypto.randomUUID();
      setWords('');
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
      <VoiceControls
        voice={voice}
        limitMs={LIMITS.voiceReplyMs}
        title={t('Your reply')}
        label={t('your reply')}
      >
        <Button look="main" type="submit" disabled={empty || sending}>
          <Send aria-hidden className="size-5" /> {t('Send')}
        </Button>
      </VoiceControls>
      {(trouble ?? voice.trouble) && <Notice kind="trouble">{trouble ?? t(voice.trouble!)}</Notice>}
    </form>
  );
}
