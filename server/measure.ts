/** ./ecoute measure: measures a file and prints what was found. Needs no database and no server. */
import { parseArgs } from 'node:util';
import { playedScore, type PlayedScore } from '@ecoute/core/formats/scoreNotes';
import { measureFile, NotDecoded } from './capabilities/measures/measureFile';
import { jsonOf, tableOf } from './capabilities/measures/table';
import { readNotation } from './capabilities/recordings/notation';

const USAGE =
  'Usage: ./ecoute measure FILE --as speech|music [--target SCORE.musicxml [--part ID]] [--from SEC] [--to SEC] [--json]';

/** What was asked for cannot be done: one line, and the exit code. */
class Refusal extends Error {
  constructor(
    message: string,
    readonly code: number,
  ) {
    super(message);
  }
}

function seconds(text: string | undefined, name: string): number | null {
  if (text === undefined) return null;
  const value = Number(text);
  if (text.trim() === '' || !Number.isFinite(value) || value < 0)
    throw new Refusal(`--${name} is a number of seconds, such as 12.5.`, 1);
  return value;
}

async function scoreOf(path: string, part: string | undefined): Promise<PlayedScore> {
  try {
    const read = await readNotation(path, 'application/vnd.recordare.musicxml');
    if (read && 'xml' in read) return playedScore(read.xml, part);
  } catch {
    // Said below, whatever it was.
  }
  throw new Refusal(`${path}: this is no score in MusicXML with notes${part ? ` in part ${part}` : ''}.`, 2);
}

async function run(): Promise<string> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      as: { type: 'string' },
      target: { type: 'string' },
      part: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      json: { type: 'boolean', default: false },
    },
  });
  const [file, ...others] = positionals;
  const { as } = values;
  if (!file || others.length > 0 || (as !== 'speech' && as !== 'music')) throw new Refusal(USAGE, 1);
  if (values.target && as !== 'music') throw new Refusal('A target is for music: --as music.', 1);
  const span = { fromSec: seconds(values.from, 'from') ?? 0, toSec: seconds(values.to, 'to') };
  if (span.toSec !== null && span.toSec <= span.fromSec)
    throw new Refusal('--to must be later than --from.', 1);
  const score = values.target ? await scoreOf(values.target, values.part) : null;
  try {
    const measures = await measureFile(file, as, { score }, span);
    return values.json ? jsonOf(measures) : tableOf(measures);
  } catch (error) {
    if (!(error instanceof NotDecoded)) throw error;
    throw new Refusal(`${file}: no sound could be decoded (${error.message}).`, 2);
  }
}

run().then(
  text => process.stdout.write(`${text}\n`),
  (error: unknown) => {
    const { message } = error as Error;
    process.stderr.write(`${message.split('\n')[0]}\n`);
    process.exitCode = error instanceof Refusal ? error.code : 1;
  },
);
