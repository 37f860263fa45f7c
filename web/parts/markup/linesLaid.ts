import type { Drawing } from '@ecoute/core/feedback/drawing';

/**
 * The lines of a text as the browser laid them out, in the units of the layout: what is drawn on them can then be printed
 * where it was drawn.
 * @param frame what places are counted from
 * @param scale of the layout on the screen
 */
export function linesLaid(text: HTMLElement, frame: HTMLElement, scale: number): Drawing['underlay'] {
  const node = text.firstChild;
  if (!(node instanceof Text) || scale === 0) return undefined;
  const origin = frame.getBoundingClientRect();
  const size = parseFloat(getComputedStyle(text).fontSize);
  const lines: NonNullable<Drawing['underlay']> = [];
  const range = document.createRange();
  let top: number | null = null;
  for (const word of node.data.matchAll(/\S+/g)) {
    range.setStart(node, word.index);
    range.setEnd(node, word.index + word[0].length);
    const box = range.getBoundingClientRect();
    const last = lines.at(-1);
    if (top !== null && last && Math.abs(box.top - top) < (size * scale) / 2) {
      last.text += ` ${word[0]}`;
      last.x = Math.min(last.x, (box.left - origin.left) / scale);
    } else {
      top = box.top;
      lines.push({
        x: (box.left - origin.left) / scale,
        y: (box.top + (box.height - size * scale * 1.3) / 2 - origin.top) / scale,
        size,
        text: word[0],
      });
    }
  }
  return lines;
}
