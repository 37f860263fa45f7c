import { readScore } from '@ecoute/core/formats/musicXml';
import { scoreOf } from '../demo/score';
import * as world from '../demo/world';

/** Lengths of the notes of each measure, in quarters. */
function measuresOf(xml: string): number[] {
  return xml
    .split('<measure ')
    .slice(1)
    .map(m => [...m.matchAll(/<duration>(\d+)<\/duration>/g)].reduce((sum, d) => sum + Number(d[1]) / 2, 0));
}

describe('the demo tunes as notation', () => {
  it('fill their measures, and hold every note as it is played', () => {
    for (const { score, tune } of world.assessments.flatMap(a => a.items).filter(i => i.score)) {
      const xml = scoreOf(score!, 'Treble recorder', tune!.notes);
      expect(readScore(xml)).toMatchObject({ title: score, parts: [{ firstMidi: tune!.notes[0]![0] }] });
      const measures = measuresOf(xml);
      expect(measures.slice(0, -1).every(m => m === 4)).toBe(true);
      expect(measures.reduce((a, b) => a + b)).toBe(
        tune!.notes.reduce((sum, [, quarters]) => sum + quarters, 0),
      );
      // A note over a bar line is tied: as many beginnings of ties as ends.
      expect(xml.split('<tie type="start"/>').length).toBe(xml.split('<tie type="stop"/>').length);
    }
  });

  it('write sharps and flats, and ties over the bar line', () => {
    const xml = scoreOf('x', 'y', [
      [66, 3],
      [70, 2],
    ]);
    expect(xml).toContain('<step>F</step><alter>1</alter><octave>4</octave>');
    expect(xml).toContain('<step>B</step><alter>-1</alter><octave>4</octave>');
    expect(measuresOf(xml)).toEqual([4, 1]);
    expect(xml.match(/<tied type="start"\/>/g)).toHaveLength(1);
  });
});
