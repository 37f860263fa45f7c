import { picturesIn } from '@ecoute/core/formats/richText';
import type { AssessmentContent } from '../assessments';
import type { Medium } from '../recordings';
import { isFile, type RichText, type Stimulus } from '../stimuli';

/** A stored file's place in an assessment, by the path of the field that names it. */
export interface FilePlace {
  recordingId: string;
  path: string;
  media: readonly Medium[];
}

const VOICES: readonly Medium[] = ['sound', 'video'];

/** Every stored file that an assessment speaks with or shows. */
export function filesOf(content: AssessmentContent): FilePlace[] {
  const places: FilePlace[] = [];
  const add = (recordingId: string | null | undefined, path: string, media = VOICES) => {
    if (recordingId) places.push({ recordingId, path, media });
  };
  const show = (stimuli: readonly Stimulus[], rich: RichText | null, path: string, richPath: string) => {
    stimuli.forEach((s, n) => {
      if (isFile(s.kind)) add(s.recordingId, `${path}.${n}`, [s.kind]);
    });
    picturesIn(rich).forEach(id => add(id, richPath, ['picture']));
  };
  add(content.directionsVoice?.recordingId, 'directionsVoice');
  content.otherDirections.forEach((d, n) => add(d.voice?.recordingId, `otherDirections.${n}`));
  content.spokenWords?.forEach((spoken, n) => add(spoken.voice.recordingId, `spokenWords.${n}`));
  show(content.stimuli, content.directionsRich, 'stimuli', 'directionsRich');
  content.items.forEach((item, i) => {
    add(item.promptRecordingId, `items.${i}.promptRecordingId`);
    add(item.readAloudVoice?.recordingId, `items.${i}.readAloudVoice`);
    show(item.stimuli, item.promptRich, `items.${i}.stimuli`, `items.${i}.promptRich`);
    add(item.wordsBefore?.voice?.recordingId, `items.${i}.wordsBefore`);
    add(item.hintVoice?.recordingId, `items.${i}.hintVoice`);
    add(item.modelVoice?.recordingId, `items.${i}.modelVoice`);
    add(item.music?.backing?.recordingId, `items.${i}.music.backing`);
    item.turns.forEach((turn, n) => add(turn.recordingId, `items.${i}.turns.${n}`));
  });
  return places;
}
