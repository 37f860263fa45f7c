import { useCallback } from 'react';
import type { Item } from '@ecoute/contract/assessments';
import { knownText } from '@ecoute/contract/evidence';
import { t } from '../../base/i18n';
import type { Track } from '../../parts/player/player';
import { playFrom, usePositionOf } from '../../parts/player/usePlayer';
import { useEvidence } from './endpoints';
import { EvidencePanel, usePitchShown } from './EvidencePanel';
import { PitchTrack } from './PitchTrack';

/** What is measured of a student's own take, where the teacher lets them see it. */
export default function OwnEvidence({ track, item }: { track: Track; item: Item }) {
  const found = useEvidence(track.id, track.durationMs);
  const position = usePositionOf(track.id);
  const evidence = found?.state === 'measured' ? found.evidence : null;
  const isPitchShown = usePitchShown(evidence);
  const { id, url, title, voice, durationMs } = track;
  const onPlay = useCallback(
    (ms: number) => playFrom({ id, url, title, voice, durationMs }, ms),
    [id, url, title, voice, durationMs],
  );
  if (found?.state === 'problem') return <p className="text-sm text-soft">{t(found.message)}</p>;
  // Not known yet whether it may be seen.
  if (!found) return null;
  if (!evidence)
    return (
      <p role="status" className="text-sm text-soft">
        {t('Being measured …')}
      </p>
    );
  return (
    <div className="grid w-full min-w-0 grid-cols-1 gap-3">
      {isPitchShown && (
        <PitchTrack
          evidence={evidence}
          fullMs={track.durationMs ?? undefined}
          positionMs={position}
          onPlay={onPlay}
        />
      )}
      <EvidencePanel
        evidence={evidence}
        takeId={track.id}
        onPlay={onPlay}
        text={knownText(item)}
        hearsModel={item.hearingsAllowed === 0}
      />
    </div>
  );
}
