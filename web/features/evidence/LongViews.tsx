import type { Data } from 'plotly.js';
import { useCallback, useMemo, useState, type ReactNode } from 'react';
import { FIGURES, figuresOf, type Evidence, type Figure } from '@ecoute/core/audio/evidence';
import { t } from '../../base/i18n';
import { FIGURE_WORDS, figureWords, inFigures } from '../../parts/figureWords';
import { Plot, type Colours } from './Plot';
import { contourPoints, stacked } from './longViewPoints';
import { Tendencies } from './Tendencies';
import type { OtherAnswer } from './otherAnswer';

function View({ title, children, choice }: { title: string; children: ReactNode; choice?: ReactNode }) {
  return (
    <figure className="m-0 grid min-w-0 grid-cols-1">
      <figcaption className="flex flex-wrap items-center gap-3 font-semibold">
        {title}
        {choice}
      </figcaption>
      {children}
    </figure>
  );
}

/** The pitch of the whole take in Hz. Pressing plays from there. */
function Contour({ evidence, onPlay }: { evidence: Evidence; onPlay: (fromMs: number) => void }) {
  const make = useCallback(
    (c: Colours) => {
      const { x, y } = contourPoints(evidence.pitch);
      const data: Data[] = [
        {
          type: 'scatter',
          mode: 'lines',
          x,
          y,
          connectgaps: false,
          line: { color: c.petrol, width: 2 },
          hovertemplate: '%{x:.1f} s, %{y:.0f} Hz<extra></extra>',
        },
      ];
      const pauses = evidence.pauses.map(p => ({
        type: 'rect' as const,
        xref: 'x' as const,
        yref: 'paper' as const,
        x0: p.startSec,
        x1: p.endSec,
        y0: 0,
        y1: 1,
        fillcolor: c.line,
        opacity: 0.35,
        line: { width: 0 },
        layer: 'below' as const,
      }));
      return {
        data,
        layout: {
          shapes: pauses,
          xaxis: { title: { text: t('seconds') } },
          yaxis: { title: { text: 'Hz' }, type: 'log' as const, nticks: 6, tickformat: '.0f' },
        },
      };
    },
    [evidence],
  );
  return (
    <View title={t('Pitch of the whole take')}>
      <Plot label={t('Pitch of the whole take')} make={make} onPoint={p => onPlay(1000 * Number(p.x))} />
    </View>
  );
}

/** The tempo as it went, beside the one that fits the whole. */
function TempoCurve({ evidence, onPlay }: { evidence: Evidence; onPlay: (fromMs: number) => void }) {
  const { target } = evidence;
  const make = useCallback(
    (c: Colours) => {
      const curve = target!.tempoCurve;
      const data: Data[] = [
        {
          type: 'scatter',
          mode: 'lines+markers',
          x: curve.map(p => p.atSec),
          y: curve.map(p => p.bpm),
          line: { color: c.petrol, width: 2 },
          marker: { color: c.petrol, size: 5 },
          hovertemplate: '%{x:.1f} s: %{y:.0f}<extra></extra>',
        },
        {
          type: 'scatter',
          mode: 'lines',
          x: [curve[0]?.atSec ?? 0, curve.at(-1)?.atSec ?? 1],
          y: [target!.bpm, target!.bpm],
          line: { color: c.saffron, width: 2, dash: 'dash' },
          hoverinfo: 'skip',
        },
      ];
      return {
        data,
        layout: {
          xaxis: { title: { text: t('seconds') } },
          yaxis: { title: { text: t('quarter notes a minute') }, rangemode: 'normal' as const },
        },
      };
    },
    [target],
  );
  return (
    <View title={t('Tempo as it went')}>
      <Plot
        label={t('Tempo as it went, {{bpm}} on the whole', { bpm: inFigures(target!.bpm ?? 0, 0) })}
        make={make}
        onPoint={p => onPlay(1000 * Number(p.x))}
      />
    </View>
  );
}

/** Where this answer lies among all to the same item. For teachers: pressing a point goes to that answer. */
function Distribution({
  evidence,
  others,
  onPick,
}: {
  evidence: Evidence;
  others: readonly OtherAnswer[];
  onPick?: (takeId: string) => void;
}) {
  const own = useMemo(() => figuresOf(evidence), [evidence]);
  const offered = FIGURES.filter(f => own[f] !== undefined && others.some(o => o.figures[f] !== undefined));
  const [chosen, setChosen] = useState<Figure | null>(null);
  const figure = chosen !== null && offered.includes(chosen) ? chosen : offered[0];
  const points = useMemo(
    () =>
      figure
        ? others.flatMap(o => {
            const value = o.figures[figure];
            return value === undefined ? [] : [{ ...o, value }];
          })
        : [],
    [others, figure],
  );
  const make = useCallback(
    (c: Colours) => {
      const laid = stacked(points.map(p => p.value));
      const data: Data[] = [
        {
          type: 'scatter',
          mode: 'markers',
          x: points.map(p => p.value),
          y: laid,
          text: points.map(p => p.name),
          customdata: points.map(p => p.takeId),
          marker: {
            color: points.map(p => (p.isThis ? c.petrol : c.soft)),
            symbol: points.map(p => (p.isThis ? 'square' : 'circle-open')),
            size: 12,
            line: { width: 2 },
          },
          hovertemplate: '%{text}: %{x}<extra></extra>',
        },
      ];
      return {
        data,
        layout: {
          xaxis: { title: { text: figure ? FIGURE_WORDS[figure].name() : '' } },
          yaxis: { visible: false, range: [-0.5, Math.max(4, ...laid) + 0.5] },
        },
      };
    },
    [points, figure],
  );
  if (!figure) return null;
  return (
    <View
      title="Among the answers to this item"
      choice={
        <select
          aria-label="Figure"
          value={figure}
          onChange={e => setChosen(e.target.value as Figure)}
          className="min-h-11 border-2 border-edge bg-sheet px-2 font-normal"
        >
          {offered.map(f => (
            <option key={f} value={f}>
              {FIGURE_WORDS[f].name()}
            </option>
          ))}
        </select>
      }
    >
      <Plot
        label={`${FIGURE_WORDS[figure].name()}: ${figureWords(figure, own[figure]!)} here, among ${points.length} answers`}
        make={make}
        onPoint={p => typeof p.customdata === 'string' && onPick?.(p.customdata)}
      />
    </View>
  );
}

/** Views over a whole take and over the class; fetched, with the charts they need, when somebody opens them. */
export default function LongViews({
  evidence,
  onPlay,
  others,
  onPick,
}: {
  evidence: Evidence;
  onPlay: (fromMs: number) => void;
  others?: readonly OtherAnswer[];
  onPick?: (takeId: string) => void;
}) {
  const hasPitch = evidence.pitch.cents.some(c => c > 0);
  return (
    <div className="grid grid-cols-1 gap-4 xl:grid-cols-2">
      {hasPitch && <Contour evidence={evidence} onPlay={onPlay} />}
      {(evidence.target?.tempoCurve.length ?? 0) > 2 && <TempoCurve evidence={evidence} onPlay={onPlay} />}
      <Tendencies target={evidence.target} notes={evidence.notes} />
      {others && others.length > 1 && <Distribution evidence={evidence} others={others} onPick={onPick} />}
    </div>
  );
}
