import type { Data, Layout, PlotMouseEvent, PlotlyHTMLElement } from 'plotly.js';
import { getNonce } from 'get-nonce';
import { useEffect, useRef, useState } from 'react';
import { NoCharts } from './NoCharts';

const HEIGHT_PX = 260;

/** The theme's own colours, as charts want them. */
function colours() {
  const style = getComputedStyle(document.documentElement);
  const of = (name: string) => style.getPropertyValue(name).trim();
  return {
    ink: of('--ink'),
    soft: of('--ink-soft'),
    line: of('--line'),
    petrol: of('--petrol-ink'),
    petrolWash: of('--petrol'),
    saffron: of('--saffron-ink'),
  };
}
export type Colours = ReturnType<typeof colours>;

/**
 * The charts, with room made for their styles: they put them into this element, which without the page's nonce the content
 * security policy would not let stand.
 */
async function fetchPlotly() {
  const id = 'plotly.js-style-global';
  if (!document.getElementById(id)) {
    const style = document.createElement('style');
    style.id = id;
    style.setAttribute('nonce', getNonce() ?? '');
    document.head.append(style);
  }
  return import('plotly.js-basic-dist-min');
}

/** A chart. What it shows is said in words beside it; `onPoint` hears which point was pressed. */
export function Plot({
  label,
  make,
  onPoint,
}: {
  label: string;
  /** Called anew when it changes: keep it between drawings. */
  make: (c: Colours) => { data: Data[]; layout: Partial<Layout> };
  onPoint?: (point: PlotMouseEvent['points'][number]) => void;
}) {
  const place = useRef<HTMLDivElement>(null);
  const [isMissing, setMissing] = useState(false);
  const heard = useRef(onPoint);
  useEffect(() => {
    heard.current = onPoint;
  });
  useEffect(() => {
    const box = place.current!;
    let current = true;
    let clean: (() => void) | null = null;
    const draw = async (Plotly: Awaited<ReturnType<typeof fetchPlotly>>) => {
      if (!current) return;
      const c = colours();
      const { data, layout } = make(c);
      const axis = { gridcolor: c.line, zeroline: false, linecolor: c.line, automargin: true };
      const drawn = (await Plotly.newPlot(
        box,
        data,
        {
          height: HEIGHT_PX,
          margin: { l: 56, r: 12, t: 8, b: 44 },
          paper_bgcolor: 'transparent',
          plot_bgcolor: 'transparent',
          font: { family: '"Atkinson Hyperlegible Next", sans-serif', size: 14, color: c.ink },
          showlegend: false,
          hovermode: 'closest',
          dragmode: false,
          ...layout,
          xaxis: { ...axis, ...layout.xaxis },
          yaxis: { ...axis, ...layout.yaxis },
        },
        { displayModeBar: false, responsive: true },
      )) as PlotlyHTMLElement;
      if (!current) return Plotly.purge(box);
      drawn.on('plotly_click', ({ points }) => points[0] && heard.current?.(points[0]));
      clean = () => Plotly.purge(box);
    };
    fetchPlotly()
      .then(draw)
      .catch(() => current && setMissing(true));
    return () => {
      current = false;
      clean?.();
    };
  }, [make]);
  if (isMissing) return <NoCharts />;
  return (
    <div ref={place} role="img" aria-label={label} style={{ minHeight: HEIGHT_PX }} className="min-w-0" />
  );
}
