import { columnsOf, type Peaks } from '@ecoute/core/audio/peaks';
import { clock } from '@ecoute/core/timing/words';
import { MARGIN, PETROL, SAFFRON, SOFT, WIDE, type Paper } from './paper';

/**
 * The shape of a recording with the places of its notes above it, and a scale below.
 * @param notes stretches in ms; a single moment has no end
 */
export function waveform(
  paper: Paper,
  peaks: Peaks,
  notes: readonly { fromMs: number; toMs: number | null }[] = [],
): void {
  const height = 44;
  paper.room(height + 22);
  const { doc } = paper;
  const top = paper.y + 8;
  const at = (ms: number) => MARGIN + (Math.min(ms, peaks.durationMs) / Math.max(1, peaks.durationMs)) * WIDE;
  const columns = 260;
  const step = WIDE / columns;
  columnsOf(peaks, columns).forEach(([low, high], i) => {
    const from = top + height / 2 - (high * height) / 2;
    const to = top + height / 2 - (low * height) / 2;
    doc.rect(MARGIN + i * step, from, step * 0.55, Math.max(0.6, to - from));
  });
  doc.fill(PETROL);
  for (const note of notes) {
    const x = at(note.fromMs);
    const end = note.toMs === null ? x + 5 : Math.max(x + 5, at(note.toMs));
    // The slanted edge of the teacher's voice.
    doc.polygon([x, paper.y + 6], [x + 3, paper.y], [end, paper.y], [end, paper.y + 6]).fill(SAFFRON);
  }
  paper.y = top + height + 2;
  paper.text('0:00', { size: 8, color: SOFT });
  paper.y -= 8 * 1.4;
  paper.text(clock(peaks.durationMs), { size: 8, color: SOFT, x: WIDE - 24 });
}
