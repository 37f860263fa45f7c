import type { Data } from 'plotly.js';
import { useCallback, useState } from 'react';
import type { Figure } from '@ecoute/core/audio/evidence';
import { locale, t } from '../../../base/i18n';
import { FIGURE_WORDS, figureWords } from '../../../parts/figureWords';
import { Plot, type Colours } from '../../evidence/Plot';
import { FigureChoice } from '../FigureChoice';
import { figuresOf, type Dated, type Task } from './tasks';

/** A measured figure of one task over the dates; a point that is pressed plays. */
export default function Curves({ task, onPlay }: { task: Task; onPlay: (dated: Dated) => void }) {
  const offered = figuresOf(task);
  const [wished, setWished] = useState<Figure | null>(null);
  const figure = wished && offered.includes(wished) ? wished : offered[0];
  const make = useCallback(
    (c: Colours) => {
      const day = new Intl.DateTimeFormat(locale(), { day: 'numeric', month: 'short', year: 'numeric' });
      const points = task.answers.filter(d => figure && d.answer.figures[figure] !== undefined);
      const data: Data[] = [
        {
          type: 'scatter',
          mode: 'lines+markers',
          x: points.map(d => d.sitting.at),
          y: points.map(d => d.answer.figures[figure!]!),
          text: points.map(d => day.format(new Date(d.sitting.at))),
          customdata: points.map(d => d.answer.takeId),
          line: { color: c.petrol, width: 2 },
          marker: { color: c.petrol, size: 12, symbol: 'square' },
          hovertemplate: '%{text}: %{y}<extra></extra>',
        },
      ];
      return {
        data,
        layout: {
          xaxis: { type: 'date' as const, tickformat: '%d.%m.', nticks: 8 },
          yaxis: { title: { text: figure ? FIGURE_WORDS[figure].name() : '' } },
        },
      };
    },
    [task, figure],
  );
  if (!figure) return null;
  const values = task.answers.flatMap(d => d.answer.figures[figure] ?? []);
  return (
    <figure className="m-0 mt-3 min-w-0">
      <figcaption className="flex flex-wrap items-center gap-3">
        <FigureChoice label={t('Measured')} figure={figure} offered={offered} onChange={setWished} />
      </figcaption>
      <Plot
        label={t('{{figure}} over the dates: from {{first}} to {{last}}', {
          figure: FIGURE_WORDS[figure].name(),
          first: figureWords(figure, values[0]!),
          last: figureWords(figure, values.at(-1)!),
        })}
        make={make}
        onPoint={p => {
          const dated = task.answers.find(d => d.answer.takeId === p.customdata);
          if (dated) onPlay(dated);
        }}
      />
    </figure>
  );
}
