import { MOST_INK, PATH_DATA, type ScoreInk } from '@ecoute/core/feedback/drawing';

const number = (element: Element, name: string) => Number(element.getAttribute(name)) || 0;

/** An SVG shape of engraved notation as path data; null for what is no ink. */
function pathOf(element: SVGElement): string | null {
  if (element.tagName === 'path') return element.getAttribute('d');
  if (element.tagName !== 'rect') return null;
  const [w, h] = [number(element, 'width'), number(element, 'height')];
  return `M${number(element, 'x')} ${number(element, 'y')}h${w}v${h}h${-w}Z`;
}

/**
 * A score as it was engraved on the screen, in the units of the layout: what is drawn on it can then be printed with it.
 * Words in the score (lyrics, names) are left out.
 * @param frame what places are counted from
 * @param scale of the layout on the screen
 */
export function scoreLaid(svg: SVGSVGElement, frame: HTMLElement, scale: number): ScoreInk | undefined {
  const onScreen = svg.getScreenCTM();
  if (!onScreen || scale === 0) return undefined;
  const origin = frame.getBoundingClientRect();
  const ink: ScoreInk['ink'] = [];
  let letters = 0;
  for (const element of svg.querySelectorAll<SVGElement>('path, rect')) {
    const d = pathOf(element)
      ?.replace(/\s+/g, ' ')
      .replace(/\d+\.\d{3,}/g, n => String(Math.round(Number(n) * 100) / 100))
      .trim();
    if (!d || !PATH_DATA.test(d)) continue;
    letters += d.length;
    if (letters > MOST_INK) return undefined;
    const look = getComputedStyle(element);
    const isVisible = look.visibility !== 'hidden' && look.display !== 'none' && look.opacity !== '0';
    const isClear = (colour: string) => colour === 'none' || /^rgba\(.*, 0\)$/.test(colour);
    if (!isVisible || (isClear(look.fill) && isClear(look.stroke))) continue;
    ink.push(isClear(look.fill) ? { d, width: parseFloat(look.strokeWidth) || 1 } : { d });
  }
  return {
    x: (onScreen.e - origin.left) / scale,
    y: (onScreen.f - origin.top) / scale,
    scale: onScreen.a / scale,
    ink,
  };
}
