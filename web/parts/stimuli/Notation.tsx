import { Music } from 'lucide-react';
import { OpenSheetMusicDisplay, TransposeCalculator } from 'opensheetmusicdisplay';
import { useEffect, useRef, useState } from 'react';
import { noteName } from '@ecoute/core/formats/musicXml';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { Button } from '../Button';
import { Loading } from '../Loading';
import { Notice } from '../Notice';
import { soundNote } from './soundNote';
import { useDetails } from './useDetails';
import { t } from '../../base/i18n';

const NARROW_PX = 480;

/** Notation drawn from MusicXML: the chosen part, as many half tones higher or lower as the teacher set. */
export function Notation({ stimulus }: { stimulus: Stimulus }) {
  const { recordingId, part, semitones, startingNote } = stimulus;
  const place = useRef<HTMLDivElement>(null);
  const display = useRef<OpenSheetMusicDisplay | null>(null);
  const [state, setState] = useState<'loading' | 'drawn' | 'failed'>('loading');
  const score = useDetails(recordingId)?.score;
  const first = (score?.parts.find(p => p.id === part) ?? score?.parts[0])?.firstMidi ?? null;

  useEffect(() => {
    if (!place.current) return;
    const box = place.current;
    const osmd = new OpenSheetMusicDisplay(box, {
      backend: 'svg',
      autoResize: true,
      drawTitle: false,
      drawSubtitle: false,
      drawComposer: false,
      drawLyricist: false,
    });
    osmd.TransposeCalculator = new TransposeCalculator();
    osmd.setLogLevel('error');
    const rules = osmd.EngravingRules;
    rules.PageLeftMargin = rules.PageRightMargin = 1;
    rules.PageTopMargin = rules.PageBottomMargin = 2;
    // Two measures a line on a phone are easier to follow than one.
    osmd.Zoom = box.clientWidth < NARROW_PX ? 0.75 : 1;
    display.current = osmd;
    let current = true;
    fetch(`/api/recordings/${recordingId}/shown`)
      .then(async response => {
        if (!response.ok) throw new Error(`HTTP ${response.status}`);
        const xml = await response.text();
        await osmd.load(xml);
        if (!current) return;
        // A part on its own needs no name before it.
        const several = part === '' && osmd.Sheet.Instruments.length > 1;
        osmd.setOptions({ drawPartNames: several, drawPartAbbreviations: several });
        for (const instrument of osmd.Sheet.Instruments)
          instrument.Visible = part === '' || instrument.IdString === part;
        osmd.Sheet.Transpose = semitones;
        osmd.updateGraphic();
        osmd.render();
        setState('drawn');
      })
      .catch(() => current && setState('failed'));
    return () => {
      current = false;
      osmd.clear();
      box.replaceChildren();
    };
  }, [recordingId, part, semitones]);

  return (
    <div className="grid grid-cols-1 gap-2">
      {state === 'loading' && <Loading rows={1} height={160} />}
      {state === 'failed' && (
        <Notice kind="trouble">
          {t('The notation could not be drawn just now. Check the connection and open this page once more.')}
        </Notice>
      )}
      {/* Notes are ink on paper, in the dark theme as well. */}
      <div className={state === 'failed' ? 'hidden' : 'bg-[#fff] p-2 text-[#000]'}>
        <div
          ref={place}
          role="img"
          data-score
          aria-label={score?.title ? `${t('Notation')}: ${score.title}` : t('Notation')}
          className="w-full min-w-0"
        />
      </div>
      {startingNote && first !== null && state === 'drawn' && (
        <div>
          <Button onClick={() => soundNote(first + semitones)}>
            <Music aria-hidden className="size-5" />{' '}
            {t('Hear the starting note, {{note}}', { note: noteName(first + semitones) })}
          </Button>
        </div>
      )}
    </div>
  );
}
