import { Square, Volume2 } from 'lucide-react';
import { useEffect, useState } from 'react';
import { Button } from '../../parts/Button';
import { t } from '../../base/i18n';

/**
 * Reads words aloud with a voice of the browser, for whoever cannot read (yet). Where the browser has no voice there
 * is nothing to press; a teacher's own voice goes before it.
 */
export function ReadToMe({
  words,
  language,
  onRead,
}: {
  words: string;
  language?: string;
  /** Called when it begins. */
  onRead?: () => void;
}) {
  const [speaking, setSpeaking] = useState(false);
  const [able, setAble] = useState(
    () => 'speechSynthesis' in window && speechSynthesis.getVoices().length > 0,
  );
  useEffect(() => {
    if (!('speechSynthesis' in window)) return;
    // Browsers load their voices late.
    const readVoices = () => setAble(speechSynthesis.getVoices().length > 0);
    speechSynthesis.addEventListener?.('voiceschanged', readVoices);
    return () => {
      speechSynthesis.removeEventListener?.('voiceschanged', readVoices);
      speechSynthesis.cancel();
    };
  }, []);
  if (!able || !words.trim()) return null;
  const read = () => {
    if (speaking) {
      speechSynthesis.cancel();
      setSpeaking(false);
      return;
    }
    const said = new SpeechSynthesisUtterance(words);
    if (language) said.lang = language;
    said.rate = 0.9;
    said.onend = said.onerror = () => setSpeaking(false);
    speechSynthesis.cancel();
    speechSynthesis.speak(said);
    setSpeaking(true);
    onRead?.();
  };
  return (
    <Button className="justify-self-start" onClick={read}>
      {speaking ? (
        <>
          <Square aria-hidden className="size-5 fill-current" /> {t('Stop reading')}
        </>
      ) : (
        <>
          <Volume2 aria-hidden className="size-5" /> {t('Read it to me')}
        </>
      )}
    </Button>
  );
}
