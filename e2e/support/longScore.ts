import type { Brought } from './files';

/** A melody of so many bars of eight notes, as MusicXML. */
export function longScore(name: string, bars: number): Brought {
  const steps = 'CDEFGABAGFEDCEGE';
  const note = (i: number) =>
    `<note><pitch><step>${steps[i % 16]}</step><octave>${5 - (i % 3 === 0 ? 1 : 0)}</octave></pitch><duration>1</duration><type>eighth</type></note>`;
  const measures = Array.from({ length: bars }, (_, bar) => {
    const attributes =
      bar === 0
        ? '<attributes><divisions>2</divisions><key><fifths>0</fifths></key><time><beats>4</beats><beat-type>4</beat-type></time><clef><sign>G</sign><line>2</line></clef></attributes>'
        : '';
    return `<measure number="${bar + 1}">${attributes}${Array.from({ length: 8 }, (_, i) => note(bar * 3 + i)).join('')}</measure>`;
  });
  const xml = `<?xml version="1.0"?><score-partwise version="4.0"><part-list><score-part id="P1"><part-name>Recorder</part-name></score-part></part-list><part id="P1">${measures.join('')}</part></score-partwise>`;
  return { name, mimeType: 'application/vnd.recordare.musicxml+xml', buffer: Buffer.from(xml) };
}
