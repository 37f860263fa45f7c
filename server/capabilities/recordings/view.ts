/** What is told of a recording, in figures and words. */
import { isSilent } from '@ecoute/core/audio/peaks';
import type { ServerSide } from '@ecoute/core/takes/fate';
import { clock, inWords } from '@ecoute/core/timing/words';
import { LIMITS } from '@ecoute/contract/limits';
import type { RecordingProblem, RecordingView } from '@ecoute/contract/recordings';
import type { RecordingRow } from './store';

/** What has come of a recording whose bytes are still under way. */
export interface Came {
  bytes: number;
  /** How many there are in all; null until its device has said so. */
  length: number | null;
  /** When the last byte came; null before the first. */
  lastAt: Date | null;
}

/** What the owner of a recording is told of it. */
export function viewOf(recording: RecordingRow, came: Came | null = null): RecordingView {
  const { id, state, medium, details, problem, durationMs, sizeBytes, sha256, fileName, gateMs } = recording;
  const { limitMs } = recording;
  const { trimFromMs, trimToMs, wholeMs } = recording;
  return {
    id,
    state,
    medium,
    details,
    fileName,
    problem,
    message: problem ? problemInWords(problem, recording) : null,
    durationMs,
    limitMs,
    silent: hasNothingToHear(recording),
    gateMs,
    trim:
      trimFromMs === null || trimToMs === null || wholeMs === null
        ? null
        : { fromMs: trimFromMs, toMs: trimToMs, wholeMs },
    sizeBytes,
    sha256,
    cutShort: recording.endedEarlyAt !== null,
    bytes: came?.bytes ?? sizeBytes ?? 0,
    length: came ? came.length : sizeBytes,
    quietMs: quietMs(recording, came),
  };
}

/** A sound that stands, and in which nobody can be heard: most likely its microphone was muted. */
export function hasNothingToHear({ state, medium, peakDbfs, gateMs }: RecordingRow): boolean {
  return state === 'stored' && medium === 'sound' && peakDbfs !== null && isSilent(peakDbfs, gateMs !== null);
}

/** Since the last byte came, since all were here, or since it was announced; in ms. */
function quietMs(recording: RecordingRow, came: Came | null): number {
  const since = came?.lastAt ?? recording.arrivedAt ?? recording.createdAt;
  return Math.max(0, Date.now() - since.getTime());
}

/** What the server knows of a recording, for the rules of its fate. */
export function serverSideOf(recording: RecordingRow, came: Came | null): ServerSide {
  const { state, problem, bytes, length, cutShort, quietMs: quiet } = viewOf(recording, came);
  return { state, problem, bytes, length, cutShort, quietMs: quiet };
}

function problemInWords(problem: RecordingProblem, recording: RecordingRow): string {
  const { durationMs, limitMs, purpose, wanted, details } = recording;
  const again =
    wanted === 'file' || (purpose === 'take' && recording.fileName !== null)
      ? 'Choose another file.'
      : purpose !== 'prompt'
        ? 'Record again.'
        : wanted === 'voice' || wanted === 'sound'
          ? 'Choose another file, or record the prompt here.'
          : 'Choose another file.';
  switch (problem) {
    case 'empty':
      return wanted === 'file' || wanted === 'show' || wanted === 'picture'
        ? `This file is empty. ${again}`
        : `Nothing was recorded: the sound is empty. ${again}`;
    case 'notAudio':
      return `This is not a sound that we know (mp3, m4a, wav, flac, ogg, webm, aiff, 3gp or the sound of a video work). ${again}`;
    case 'noSound':
      return `There is no sound in this film. ${again}`;
    case 'noVideo':
      return `There is no picture in this recording. ${again}`;
    case 'notWanted':
      return wanted === 'picture'
        ? `This is not a picture that we know (PNG, JPEG, WebP, GIF, AVIF or TIFF work). ${again}`
        : `This is neither a picture, a PDF, slides (PPTX) nor notation (MusicXML). ${again}`;
    case 'damaged':
      return wanted === 'sound' || wanted === 'voice'
        ? `The sound is damaged and cannot be played. It is kept as it came. ${again}`
        : `This file is damaged and cannot be opened. It is kept as it came. ${again}`;
    case 'tooLong':
      return `This is ${durationMs === null ? 'too' : clock(durationMs)} long; the limit is ${inWords(limitMs)}. It is kept, but does not count. ${again}`;
    case 'locked':
      return 'This PDF asks for a password before it opens. Save it without a password, then choose it again.';
    case 'tooManyPages':
      return `This PDF has more than ${LIMITS.pages} pages. Choose one with the pages that are needed.`;
    case 'slidesNeedPdf':
      return 'Slides cannot be turned into pages here. Save them as a PDF, then choose the PDF.';
    case 'brokenNotation':
      return details?.line
        ? `This MusicXML breaks off in line ${details.line}. Export it once more from the notation program.`
        : 'This MusicXML is damaged. Export it once more from the notation program.';
    case 'notNotation':
      return 'This is XML, but not MusicXML. Export the score as MusicXML, then choose that file.';
    case 'timewiseNotation':
      return 'This MusicXML is ordered by measures (score-timewise). Export it ordered by parts (score-partwise).';
    case 'emptyNotation':
      return 'There is no part or no measure in this score. Export the one that has notes.';
    case 'lost':
      return 'Nothing of this recording ever came from the device that made it. It does not count and uses up no take: record again.';
    case 'cancelled':
      return 'This was let go before it was ready. Choose the file again if it is wanted after all.';
  }
}
