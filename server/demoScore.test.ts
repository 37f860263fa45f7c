import { readScore } from '@ecoute/core/formats/musicXml';
import { isSeveral, playedScore } from '@ecoute/core/formats/scoreNotes';
import { handsOf, rhythmOf, scoreOf } from '../demo/score';
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
    for (const { score, tune } of world.assessments.flatMap(a => a.items).filter(i => i.tune)) {
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

  it('write both hands of a piece, and a rhythm without pitches', () => {
    const items = world.assessments.flatMap(a => a.items);
    const hands = items.find(i => i.hands)!.hands!;
    const piece = playedScore(handsOf('x', 'y', hands));
    expect(isSeveral(piece)).toBe(true);
    const sounding = hands.right.length + hands.left.reduce((sum, [midis]) => sum + midis.length, 0);
    expect(piece.all).toHaveLength(sounding);
    expect(piece.bars).toHaveLength(hands.left.reduce((sum, [, q]) => sum + q, 0) / hands.beats);
    const { lengths } = items.find(i => i.rhythm)!.rhythm!;
    const rhythm = playedScore(rhythmOf('x', 'y', lengths));
    expect(rhythm.isUnpitched).toBe(true);
    expect(rhythm.notes).toHaveLength(lengths.filter(l => l > 0).length);
  });
});
