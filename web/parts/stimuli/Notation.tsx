import { Music } from 'lucide-react';
import { OpenSheetMusicDisplay, TransposeCalculator } from 'opensheetmusicdisplay';
import { useContext, useEffect, useRef, useState } from 'react';
import { noteName } from '@ecoute/core/formats/musicXml';
import type { Stimulus } from '@ecoute/contract/stimuli';
import { Button } from '../Button';
import { Loading } from '../Loading';
import { Notice } from '../Notice';
import { StageRoom, type Room } from './stageRoom';
import { soundNote } from './soundNote';
import { useDetails } from './useDetails';
import { t } from '../../base/i18n';

const NARROW_PX = 480;
/** Where a score would have to be smaller than this to fit as a whole, its pages are turned instead. */
const SMALLEST = 0.7;
const LARGEST = 1.4;
/** OSMD's own unit, at zoom 1. */
const UNIT_PX = 10;

/** Draws at a size, writes beside it where its lines lie (for turning pages), and says how high it is, in px. */
function drawAt(osmd: OpenSheetMusicDisplay, place: HTMLElement, zoom: number): number {
  osmd.Zoom = zoom;
  osmd.render();
  const lines = osmd.GraphicSheet.MusicPages.flatMap(page =>
    page.MusicSystems.map(({ PositionAndShape: box }) =>
      [box.AbsolutePosition.y + box.BorderTop, box.AbsolutePosition.y + box.BorderBottom].map(
        y => y * UNIT_PX * zoom,
      ),
    ),
  );
  place.dataset.lines = JSON.stringify(lines);
  return place.scrollHeight;
}

/**
 * Draws to fit: two measures a line on a page are easier to follow than one; on a stage as large as all of it is in sight,
 * or, where that would be too small to play from, at the usual size with pages to turn.
 * @param room null on a page
 */
function drawToFit(osmd: OpenSheetMusicDisplay, place: HTMLElement, room: Room | null): void {
  const wish = room?.size ?? 1;
  const usual = (place.clientWidth < NARROW_PX ? 0.75 : 1) * wish;
  const height = drawAt(osmd, place, usual);
  if (room === null || height === 0) return;
  const free = room.heightPx - 40;
  // Half the size is half the lines of half the height: a quarter.
  const fits = (size: number) => Math.min(LARGEST * wish, size);
  let zoom = fits(usual * Math.sqrt(free / height));
  if (zoom > usual && height <= free && wish !== 1) return;
  for (let tries = 0; tries < 4 && zoom >= SMALLEST * Math.min(1, wish); tries++, zoom *= 0.94)
    if (drawAt(osmd, place, zoom) <= free) return;
  drawAt(osmd, place, usual);
}

/** Notation drawn from MusicXML: the chosen part, as many half tones higher or lower as the teacher set. */
export function Notation({ stimulus }: { stimulus: Stimulus }) {
  const { recordingId, part, semitones, startingNote } = stimulus;
  const place = useRef<HTMLDivElement>(null);
  /** What draws, and whether it has: one that is still loading cannot. */
  const display = useRef<{ osmd: OpenSheetMusicDisplay; isDrawn: boolean } | null>(null);
  const [state, setState] = useState<'loading' | 'drawn' | 'failed'>('loading');
  const score = useDetails(recordingId)?.score;
  const first = (score?.parts.find(p => p.id === part) ?? score?.parts[0])?.firstMidi ?? null;

  useEffect(() => {
    if (!place.current) return;
    const box = place.current;
    const osmd = new OpenSheetMusicDisplay(box, {
      backend: 'svg',
      autoResize: false,
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
    // Lines near each other: more of it is in sight.
    rules.MinimumDistanceBetweenSystems = 3;
    rules.MinSkyBottomDistBetweenSystems = 2;
    const own = { osmd, isDrawn: false };
    display.current = own;
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
        drawToFit(osmd, box, null);
        own.isDrawn = true;
        setState('drawn');
      })
      .catch(() => current && setState('failed'));
    return () => {
      current = false;
      own.isDrawn = false;
      osmd.clear();
      box.replaceChildren();
    };
  }, [recordingId, part, semitones]);

  // Another width, another room: drawn again. Turning a phone is both.
  const room = useContext(StageRoom);
  useEffect(() => {
    const box = place.current;
    if (state !== 'drawn' || !box) return;
    let width = box.clientWidth;
    let waiting: ReturnType<typeof setTimeout> | undefined;
    const draw = () => {
      width = box.clientWidth;
      // Another part may have been chosen since: that draws once it has loaded.
      const now = display.current;
      if (width > 0 && now?.isDrawn) drawToFit(now.osmd, box, room);
    };
    draw();
    const sizes = new ResizeObserver(() => {
      if (box.clientWidth === width) return;
      clearTimeout(waiting);
      waiting = setTimeout(draw, 100);
    });
    sizes.observe(box);
    return () => {
      clearTimeout(waiting);
      sizes.disconnect();
    };
  }, [room, state]);

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
