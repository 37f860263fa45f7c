import type { Item } from '@ecoute/contract/assessments';
import { Film } from './player/Film';
import { PlayButton, trackOf } from './player/PlayButton';
import { RichText } from './RichText';
import { Stimuli } from './stimuli/StimulusView';
import { t } from '../base/i18n';

/** Kinds that somebody's eyes stay on while they speak or play. */
const READ_FROM = new Set(['passage', 'notation', 'pages']);

/** What an item gives to answer: words, the film of a filmed prompt, and what is to be looked at. */
export function PromptWords({
  item,
  big = false,
  onReadAloud,
  isOnStage = false,
}: {
  item: Item;
  big?: boolean;
  /** Called when the words begin to be read aloud. */
  onReadAloud?: () => void;
  /** It fills the screen: what is read or played from stands first, as its reader wants it. */
  isOnStage?: boolean;
}) {
  const { promptText, promptRich, promptRecordingId, promptIsVideo, stimuli, readAloudVoice } = item;
  const words = promptText || promptRich;
  const size = isOnStage
    ? 'max-w-3xl text-[length:calc(1.125rem*var(--reading,1))] leading-normal sm:text-[length:calc(1.375rem*var(--reading,1))]'
    : 'leading-relaxed text-[length:calc(1.25rem*var(--reading,1))] sm:text-[length:calc(1.5rem*var(--reading,1))]';
  // What is read or played from comes before the words about it: these were read already.
  const isReadFrom = isOnStage && stimuli.some(s => READ_FROM.has(s.kind));
  const read = (
    <div key="words" className={`empty:hidden ${isReadFrom ? 'mt-4' : ''}`}>
      {words ? (
        <RichText
          doc={promptRich}
          plain={promptText}
          className={`font-passage ${big ? `${isOnStage ? '' : 'mt-2'} ${size}` : 'leading-relaxed'}`}
        />
      ) : (
        promptRecordingId &&
        big && <p className="mt-2 font-passage text-xl sm:text-2xl">{t('Listen to the prompt.')}</p>
      )}
      {readAloudVoice && !isOnStage && (
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
        <div className={isOnStage ? 'mt-2 w-full max-w-[calc(var(--stage-room,30rem)*1.2)]' : 'mt-4'}>
          <Film id={promptRecordingId} label={t('The film of the prompt')} />
        </div>
      )}
    </div>
  );
  const shown = (
    <div key="shown" className="empty:hidden">
      <Stimuli stimuli={stimuli} isOnStage={isOnStage} />
    </div>
  );
  return <>{isReadFrom ? [shown, read] : [read, shown]}</>;
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
