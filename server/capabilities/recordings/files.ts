/** Which files there are of a recording, and where they lie in the file store. */
import type { RecordingRow } from './store';

export const original = (id: string) => `originals/${id}`;
export const playable = (id: string) => `playable/${id}.m4a`;
/** What was measured of a take. */
export const measuresOf = (id: string) => `measures/${id}.json`;
/** The copy that is looked at: a picture, the PDF that slides became, or plain MusicXML. */
export const shown = (id: string) => `shown/${id}`;
export const pageOf = (id: string, number: number) => `pages/${id}/${number}.jpg`;

type Cut = Pick<RecordingRow, 'id' | 'trimFromMs' | 'trimToMs'>;

/** A name for each stretch: what is cut again lies beside what was cut before, until the rows say which one holds. */
const stretchOf = ({ id, trimFromMs, trimToMs }: Cut) => `trimmed/${id}/${trimFromMs}-${trimToMs}`;
/** What is left of a take that its student cut. */
export const trimmed = (cut: Cut) => `${stretchOf(cut)}.flac`;
export const peaksOf = (of: Cut) =>
  of.trimFromMs === null ? `peaks/${of.id}.json` : `${stretchOf(of)}.json`;
/** Where what is heard of a recording comes from. */
export const heardFrom = (of: Cut) => (of.trimFromMs === null ? original(of.id) : trimmed(of));

/** Every file, or folder of files, that there may be of a recording. */
export const filesOfRecording = (id: string) => [
  original(id),
  `${original(id)}.json`,
  playable(id),
  `trimmed/${id}`,
  `peaks/${id}.json`,
  measuresOf(id),
  shown(id),
  `pages/${id}`,
];
