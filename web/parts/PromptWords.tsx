import type { Item } from '@ecoute/contract/assessments';
import { Film } from './player/Film';
import { PlayButton, trackOf } from './player/PlayButton';
import { RichText } from './RichText';
import { Stimuli } from './stimuli/StimulusView';
import { t } from '../base/i18n';

/** What an item gives to answer: words, the film of a filmed prompt, and what is to be looked at. */
export function PromptWords({
  item,
  big = false,
  onReadAloud,
}: {
  item: Item;
  big?: boolean;
  /** Called when the words begin to be read aloud. */
  onReadAloud?: () => void;
}) {
  const { promptText, promptRich, promptRecordingId, promptIsVideo, stimuli, readAloudVoice } = item;
  const words = promptText || promptRich;
  return (
    <>
      {words ? (
        <RichText
          doc={promptRich}
          plain={promptText}
          className={`font-passage leading-relaxed ${big ? 'mt-2 text-xl sm:text-2xl' : ''}`}
        />
      ) : (
        promptRecordingId &&
        big && <p className="mt-2 font-passage text-xl sm:text-2xl">{t('Listen to the prompt.')}</p>
      )}
      {readAloudVoice && (
        <div className="mt-3">
          <PlayButton
            track={trackOf(
              readAloudVoice.recordingId,
              t('The prompt read aloud'),
              'teacher',
              readAloudVoice.durationMs,
            )}
            label={t('the prompt read aloud')}
            text={t('Hear it read aloud')}
            onPlay={onReadAloud}
          />
        </div>
      )}
      {promptRecordingId && promptIsVideo && (
        <div className="mt-4">
          <Film id={promptRecordingId} label={t('The film of the prompt')} />
        </div>
      )}
      <Stimuli stimuli={stimuli} />
    </>
  );
}

/** Plays a prompt's voice wherever it may be heard freely. */
export function PromptVoice({ item, text }: { item: Item; text: string }) {
  if (!item.promptRecordingId) return null;
  return (
    <div className="mt-4">
      <PlayButton
        track={trackOf(item.promptRecordingId, t('Prompt'), 'teacher', item.promptDurationMs)}
        label={t('the prompt')}
        text={text}
      />
    </div>
  );
}
