/** ./ecoute measure: measures a file and prints what was found. Needs no database and no server. */
import { once } from 'node:events';
import { readFile } from 'node:fs/promises';
import { parseArgs } from 'node:util';
import { besideModel, type BesideModel, type Follows } from '@ecoute/core/audio/besideModel';
import type { HeardAs, Measures } from '@ecoute/core/audio/measure';
import { playedScore, type PlayedScore } from '@ecoute/core/formats/scoreNotes';
import { cepstraOf } from '@ecoute/core/words/cepstra';
import { inVoiceOf, type TextWord } from '@ecoute/core/words/textHeard';
import { writtenTokens } from '@ecoute/core/words/writtenWords';
import {
  LONGEST_HELD_SEC,
  measureFile,
  NotDecoded,
  samplesOf,
  soundsIn,
} from './capabilities/measures/measureFile';
import { referenceOf, type Unknown } from './capabilities/measures/referenceVoice';
import type { Span } from './capabilities/measures/decode';
import { besideTable, jsonPieces, tableOf } from './capabilities/measures/table';
import { readNotation } from './capabilities/recordings/notation';

const USAGE =
  'Usage: ./ecoute measure FILE --as speech|music [--target SCORE.musicxml [--part ID]] ' +
  '[--text TEXT.txt --language TAG [--voice-of FILE]] [--model FILE] [--from SEC] [--to SEC] [--json]';

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

const NO_REFERENCE: Record<Unknown, string> = {
  noLanguage: '--language is a language tag, such as en or pt-BR.',
  noVoice: 'The reference voice (espeak-ng) does not speak this language or does not read this script.',
  notInstalled: 'espeak-ng is not installed: without a reference voice no words can be looked for.',
};

/** The words of a text as the reference voice says them, and as somebody says them who reads it too. */
async function textOf(path: string, language: string, voiceOf: string | undefined): Promise<TextWord[]> {
  const text = await readFile(path, 'utf8').catch(() => {
    throw new Refusal(`${path}: there is no such text.`, 2);
  });
  const tokens = writtenTokens(text.replace(/^\uFEFF/, ''));
  if (tokens.length === 0) throw new Refusal(`${path}: there are no words in it.`, 2);
  const reference = await referenceOf(tokens, language);
  if ('unknown' in reference) throw new Refusal(NO_REFERENCE[reference.unknown], 2);
  if (!voiceOf) return reference.words;
  const samples = await samplesOf(voiceOf, LONGEST_HELD_SEC);
  const own = samples && inVoiceOf(cepstraOf(samples), reference.words);
  if (!own) throw new Refusal(`${voiceOf}: this is no reading of the text.`, 2);
  return own;
}

/** As the command prints it: what was followed as events of the target. */
function withEvents({ target, ...measures }: Measures): Omit<Measures, 'target'> & { target: object | null } {
  if (!target) return { ...measures, target };
  const { followed, steadyPercent: _, ...others } = target;
  if (!followed) return { ...measures, target: others };
  const { fits, events, restarts, waits, leftOut, semitones } = followed;
  return { ...measures, target: { ...others, fits, events, restarts, waits, leftOut, semitones } };
}

/** As the command prints it: every word with its place and whether it was read. */
function withWords({ words: heard, ...measures }: ReturnType<typeof withEvents>): object {
  if (!heard) return measures;
  const words = heard.words.map((w, index) => ({
    index,
    startSec: w?.startSec ?? null,
    endSec: w?.endSec ?? null,
    status: w ? 'read' : 'missed',
  }));
  const extra = heard.extra.map(({ afterIndex: _, ...e }) => e);
  return { ...measures, words: { fits: heard.fits, words, extra } };
}

async function besideModelOf(path: string, as: HeardAs, take: Follows): Promise<BesideModel> {
  const whole: Span = { fromSec: 0, toSec: null };
  const model = await measureFile(path, as).catch((error: unknown) => {
    if (!(error instanceof NotDecoded)) throw error;
    throw new Refusal(`${path}: no sound could be decoded (${error.message}).`, 2);
  });
  const beside = besideModel(take, { measures: model, heard: await soundsIn(path, as, whole) });
  if (!beside)
    throw new Refusal(
      `${path}: nothing sounds in one of the two, or they are too long to be laid on each other.`,
      2,
    );
  return beside;
}

async function run(): Promise<Iterable<string>> {
  const { values, positionals } = parseArgs({
    allowPositionals: true,
    options: {
      as: { type: 'string' },
      target: { type: 'string' },
      part: { type: 'string' },
      text: { type: 'string' },
      language: { type: 'string' },
      'voice-of': { type: 'string' },
      model: { type: 'string' },
      from: { type: 'string' },
      to: { type: 'string' },
      json: { type: 'boolean', default: false },
    },
  });
  const [file, ...others] = positionals;
  const { as } = values;
  if (!file || others.length > 0 || (as !== 'speech' && as !== 'music')) throw new Refusal(USAGE, 1);
  if (values.target && as !== 'music') throw new Refusal('A target is for music: --as music.', 1);
  if (values.text && as !== 'speech') throw new Refusal('A text is for speech: --as speech.', 1);
  if (values['voice-of'] && !values.text) throw new Refusal('--voice-of reads a text: give --text too.', 1);
  const span = { fromSec: seconds(values.from, 'from') ?? 0, toSec: seconds(values.to, 'to') };
  if (span.toSec !== null && span.toSec <= span.fromSec)
    throw new Refusal('--to must be later than --from.', 1);
  const score = values.target ? await scoreOf(values.target, values.part) : null;
  const text = values.text ? await textOf(values.text, values.language ?? '', values['voice-of']) : null;
  try {
    const measures = await measureFile(file, as, { score, text }, span);
    const model = values.model
      ? await besideModelOf(values.model, as, { measures, heard: await soundsIn(file, as, span) })
      : null;
    if (!values.json) return [[tableOf(measures), ...(model ? [besideTable(model)] : [])].join('\n')];
    // No pitch is none, and not one of 0 Hz. Nothing else reads it after this.
    const { hz } = measures.pitch;
    for (let i = 0; i < hz.length; i++) if (!(hz[i]! > 0)) hz[i] = NaN;
    return jsonPieces({ ...withWords(withEvents(measures)), ...(model && { model }) });
  } catch (error) {
    if (!(error instanceof NotDecoded)) throw error;
    throw new Refusal(`${file}: no sound could be decoded (${error.message}).`, 2);
  }
}

run().then(
  async text => {
    // Whoever reads more slowly than this writes is waited for: an hour of it need not be held at once.
    for (const piece of text) if (!process.stdout.write(piece)) await once(process.stdout, 'drain');
    process.stdout.write('\n');
  },
  (error: unknown) => {
    const { message } = error as Error;
    process.stderr.write(`${message.split('\n')[0]}\n`);
    process.exitCode = error instanceof Refusal ? error.code : 1;
  },
);
