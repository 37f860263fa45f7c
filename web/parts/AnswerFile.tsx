import { Download } from 'lucide-react';
import { useMemo } from 'react';
import type { Medium } from '@ecoute/contract/recordings';
import { blankStimulus } from '@ecoute/contract/blank';
import { Film } from './player/Film';
import { StimulusView } from './stimuli/StimulusView';
import { t } from '../base/i18n';

/** What is seen of an answer: a film while it plays, a picture, pages; any file can be saved. */
export function AnswerFile({
  takeId,
  medium,
  fileName,
  name,
}: {
  takeId: string;
  medium: Medium | null;
  fileName: string | null;
  /** Whose answer it is, in words. */
  name: string;
}) {
  const shown = useMemo(
    () =>
      medium === 'picture' || medium === 'pages'
        ? blankStimulus(takeId, medium, { recordingId: takeId, words: fileName ?? name })
        : null,
    [fileName, medium, name, takeId],
  );
  if (medium === null || (medium === 'sound' && fileName === null)) return null;
  return (
    <div className="grid grid-cols-1 gap-2">
      {medium === 'video' && <Film id={takeId} label={t('The film of {{what}}', { what: name })} />}
      {shown && <StimulusView stimulus={shown} />}
      {fileName !== null && (
        <p>
          <a
            href={`/api/recordings/${takeId}/file`}
            download={fileName}
            className="inline-flex min-h-11 items-center gap-2 underline underline-offset-4"
          >
            <Download aria-hidden className="size-5" /> {fileName}
          </a>
        </p>
      )}
    </div>
  );
}

/** True where an answer can be heard or watched on the transport. */
export function isPlayable(medium: Medium | null): boolean {
  return medium === 'sound' || medium === 'video';
}
